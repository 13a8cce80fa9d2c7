// The same three games written by hand, as a careful programmer would: plain scalar C++ with the
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
    ++n.outcome[result[uniform_below(a, 3)][uniform_below(b, 3)]];
  }
}

void dice_duel(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "cube");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t cube = stream_start(key, unit);
    int first = 0, second = 0;
    for (int t = 0; t < 7; ++t) {
      const uint32_t a = uniform_below(cube, 8), b = uniform_below(cube, 8);
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
    auto tile = [&stream] { return 1 + static_cast<int>(uniform_below(stream, 12)); };
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

}  // namespace

// hand GAME ROUNDS SEED: prints the processor seconds, then the outcome counts.
int main(int argc, char** argv) {
  if (argc != 4) return 2;
  const uint64_t rounds = std::strtoull(argv[2], nullptr, 10), seed = std::strtoull(argv[3], nullptr, 10);
  static Counts counts;
  const std::clock_t start = std::clock();
  if (std::strcmp(argv[1], "tide-signs") == 0) tide_signs(seed, rounds, counts);
  else if (std::strcmp(argv[1], "dice-duel") == 0) dice_duel(seed, rounds, counts);
  else lantern_tiles(seed, rounds, counts);
  const double took = static_cast<double>(std::clock() - start) / CLOCKS_PER_SEC;
  uint64_t check = 0;
  for (const auto& record : counts.record)
    for (uint64_t k : record) check = check * 31 + k;
  std::printf("%.6f", took);
  for (uint64_t k : counts.outcome) std::printf(" %llu", static_cast<unsigned long long>(k));
  std::printf(" %llu\n", static_cast<unsigned long long>(check));
}
