// The same games written by hand, as a careful programmer would: plain scalar C++ with the
// same generator and the same streams, counting the same things. Prints the counts too, so that
// the comparison is of programs that agree unit by unit.
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <ctime>

#include "../src/core/random.h"

using namespace basanos;

namespace {

struct Counts {
  uint64_t outcome[8] = {};
  uint64_t record[3][512] = {};
};

void tide_signs(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t left = source_key(seed, "chance of left"), right = source_key(seed, "chance of right");
  static const int result[3][3] = {{2, 0, 1}, {1, 2, 0}, {0, 1, 2}};  // reef, boat, squall
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t a = stream_start(left, unit), b = stream_start(right, unit);
    ++n.outcome[result[uniform_below(&a, 3)][uniform_below(&b, 3)]];
  }
}

void dice_duel(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "cube");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t cube = stream_start(key, unit);
    int first = 0, second = 0;
    for (int t = 0; t < 7; ++t) {
      const uint32_t a = uniform_below(&cube, 8), b = uniform_below(&cube, 8);
      if (a > b) ++first;
      if (b > a) ++second;
    }
    ++n.outcome[first > second ? 0 : second > first ? 1 : 2];
    ++n.record[0][first];
    ++n.record[1][second];
  }
}

void lantern_tiles(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "tile");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    auto tile = [&stream] { return 1 + static_cast<int>(uniform_below(&stream, 12)); };
    int guest = tile(), keeper = 0, guest_tiles = 2, keeper_tiles = 0;
    guest += tile();
    while (guest < 19) {
      guest += tile();
      ++guest_tiles;
    }
    const bool bright = guest == 24 && guest_tiles == 3;
    if (!bright && guest <= 24) {
      do {
        keeper += tile();
        ++keeper_tiles;
      } while (keeper < 18);
    }
    ++n.outcome[bright ? 0 : guest > 24 ? 1 : keeper > 24 ? 2 : guest == keeper ? 3 : guest > keeper ? 4 : 5];
    ++n.record[0][guest_tiles + keeper_tiles];
    ++n.record[1][guest_tiles];
    ++n.record[2][keeper_tiles];
  }
}

// Two seats, a race to 100: each banks at twenty, or where that wins.
void high_water(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "wave");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    int score[2] = {0, 0}, mover = 1;
    while (score[mover] < 100) {
      mover = 1 - mover;
      int pot = 0;
      for (;;) {
        const int face = 1 + static_cast<int>(uniform_below(&stream, 6));
        if (face == 1) {
          pot = 0;
          break;
        }
        pot += face;
        if (pot >= 20 || score[mover] + pot >= 100) break;
      }
      score[mover] += pot;
    }
    ++n.outcome[mover];
    ++n.record[0][score[1 - mover]];
  }
}

void harbour_dice(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "cube");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    int count[7] = {};
    for (int k = 0; k < 5; ++k) ++count[1 + uniform_below(&stream, 6)];
    const auto outcome = [&count] {
      int most = 0, pairs = 0, run = 0, longest = 0;
      for (int f = 1; f <= 6; ++f) {
        if (count[f] > most) most = count[f];
        pairs += count[f] == 2;
        run = count[f] > 0 ? run + 1 : 0;
        if (run > longest) longest = run;
      }
      return most == 5 ? 0 : most == 4 ? 1 : most == 3 && pairs == 1 ? 2 : longest == 5 ? 3 : most == 3 ? 4 : 5;
    };
    int end = outcome(), throws = 1;
    if (end > 3) {  // not good: keep the commonest, the higher on a tie, and throw the rest once more
      int best = 1;
      for (int f = 2; f <= 6; ++f)
        if (10 * count[f] + f > 10 * count[best] + best) best = f;
      const int kept = count[best];
      for (int f = 1; f <= 6; ++f) count[f] = f == best ? kept : 0;
      for (int k = kept; k < 5; ++k) ++count[1 + uniform_below(&stream, 6)];
      end = outcome();
      throws = 2;
    }
    int total = 0;
    for (int f = 1; f <= 6; ++f) total += f * count[f];
    ++n.outcome[end];
    ++n.record[0][throws];
    ++n.record[1][total];
  }
}

}  // namespace

// hand GAME ROUNDS SEED: prints the processor seconds, then the outcome counts.
int main(int argc, char** argv) {
  if (argc != 4) return 2;
  const uint64_t rounds = std::strtoull(argv[2], nullptr, 10), seed = std::strtoull(argv[3], nullptr, 10);
  static Counts counts;
  const std::clock_t start = std::clock();
  if (std::strcmp(argv[1], "tide-signs") == 0) tide_signs(seed, rounds, counts);
  else if (std::strcmp(argv[1], "dice-duel") == 0) dice_duel(seed, rounds, counts);
  else if (std::strcmp(argv[1], "high-water") == 0) high_water(seed, rounds, counts);
  else if (std::strcmp(argv[1], "harbour-dice") == 0) harbour_dice(seed, rounds, counts);
  else lantern_tiles(seed, rounds, counts);
  const double took = static_cast<double>(std::clock() - start) / CLOCKS_PER_SEC;
  uint64_t check = 0;
  for (const auto& record : counts.record)
    for (uint64_t k : record) check = check * 31 + k;
  std::printf("%.6f", took);
  for (uint64_t k : counts.outcome) std::printf(" %llu", static_cast<unsigned long long>(k));
  std::printf(" %llu\n", static_cast<unsigned long long>(check));
}
