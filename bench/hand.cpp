// The same games written by hand, as a careful programmer would: plain scalar C++ with the
// same generator and the same streams, counting the same things. Prints the counts too, so that
// the comparison is of programs that agree unit by unit.
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <fstream>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "../src/core/random.h"

using namespace basanos;

namespace {

struct Counts {
  uint64_t outcome[8] = {};
  uint64_t record[3][512] = {};
};

void five_signs(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t left = source_key(seed, "chance of left"), right = source_key(seed, "chance of right");
  // reef, boat, squall, gull, net: 0 the left wins, 1 the right, 2 a draw
  static const int result[5][5] = {{2, 0, 0, 1, 1}, {1, 2, 0, 0, 1}, {1, 1, 2, 0, 0}, {0, 1, 1, 2, 0}, {0, 0, 1, 1, 2}};
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t a = stream_start(left, unit), b = stream_start(right, unit);
    ++n.outcome[result[uniform_below(&a, 5)][uniform_below(&b, 5)]];
  }
}

// Twenty-one: both draw below seventeen. `take` gives the points of a card.
template <class Take>
void twenty_one(Counts& n, Take take) {
  const auto play = [&take] {
    int total = 0, soft = 0;
    do {
      const int worth = take();
      total += worth;
      soft += worth == 11;
      if (total > 21 && soft > 0) {
        total -= 10;
        --soft;
      }
    } while (total < 17);
    return total;
  };
  const int guest = play(), keeper = guest <= 21 ? play() : 0;
  ++n.outcome[guest > 21 ? 0 : keeper > 21 ? 1 : guest == keeper ? 2 : guest > keeper ? 3 : 4];
  ++n.record[0][guest];
  ++n.record[1][keeper];
}

const int card_points[13] = {2, 3, 4, 5, 6, 7, 8, 9, 10, 10, 10, 10, 11};

void open_shoe(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "card");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    twenty_one(n, [&stream] { return card_points[uniform_below(&stream, 13)]; });
  }
}

void six_packs(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "shoe");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    int left[13], all = 13 * 24;
    for (int& count : left) count = 24;
    twenty_one(n, [&] {
      int place = static_cast<int>(uniform_below(&stream, static_cast<uint32_t>(all--))), rank = 0;
      while ((place -= left[rank]) >= 0) ++rank;
      --left[rank];
      return card_points[rank];
    });
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

// Five dice, up to three rolls: the commonest face is kept each time, the higher on a tie, unless the dice are good.
void three_rolls(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "cube");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    int count[7] = {};
    const auto roll = [&count, &stream](int dice) {
      for (int k = 0; k < dice; ++k) ++count[1 + uniform_below(&stream, 6)];
    };
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
    roll(5);
    int end = outcome(), throws = 1;
    while (throws < 3 && end > 3) {
      int best = 1;
      for (int f = 2; f <= 6; ++f)
        if (10 * count[f] + f > 10 * count[best] + best) best = f;
      const int kept = count[best];
      for (int f = 1; f <= 6; ++f) count[f] = f == best ? kept : 0;
      roll(5 - kept);
      end = outcome();
      ++throws;
    }
    int total = 0;
    for (int f = 1; f <= 6; ++f) total += f * count[f];
    ++n.outcome[end];
    ++n.record[0][throws];
    ++n.record[1][total];
  }
}

// Six dice, to 10 000: all that scores is set aside; banks at 300, or with two dice or fewer left, once on the board.
void six_shells(uint64_t seed, uint64_t rounds, Counts& n) {
  const uint64_t key = source_key(seed, "shell");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    int score[2] = {0, 0}, mover = 1;
    while (score[mover] < 10000) {
      mover = 1 - mover;
      int pot = 0, loose = 6;
      for (;;) {
        int count[7] = {};
        for (int k = 0; k < loose; ++k) ++count[1 + uniform_below(&stream, 6)];
        int worth = 0, aside = 0, singles = 0, pairs = 0;
        for (int f = 1; f <= 6; ++f) {
          const int c = count[f], each = f == 1 ? 60 : f == 5 ? 40 : 0;
          singles += c == 1;
          pairs += c == 2;
          if (c >= 3) worth += (f == 1 ? 600 : 90 * f) * (c - 2);
          else worth += each * c;
          if (c >= 3 || each > 0) aside += c;
        }
        if (singles == 6) worth = 1200, aside = 6;
        if (pairs == 3) worth = 800, aside = 6;
        if (aside == 0) {
          pot = 0;
          break;
        }
        pot += worth;
        loose -= aside;
        if (loose == 0) loose = 6;
        if ((pot >= 300 || loose <= 2) && (score[mover] > 0 || pot >= 350)) break;
      }
      score[mover] += pot;
    }
    ++n.outcome[mover];
  }
}

// Three counters each to the far rock at twelve; the foremost that can move does.
void three_crabs(uint64_t seed, uint64_t rounds, Counts& n) {
  static const int steps[6] = {1, 1, 2, 3, 5, -2};
  const uint64_t key = source_key(seed, "step");
  for (uint64_t unit = 1; unit <= rounds; ++unit) {
    uint64_t stream = stream_start(key, unit);
    int at[2][3] = {}, mover = 1;
    const auto stands = [&at](int seat, int where) {
      return at[seat][0] == where || at[seat][1] == where || at[seat][2] == where;
    };
    do {
      mover = 1 - mover;
      const int step = steps[uniform_below(&stream, 6)];
      int chosen = -1;
      for (int k = 0; k < 3; ++k) {
        const int from = at[mover][k], to = from + step;
        if (from == 12 || to < 0 || to > 12 || (to > 0 && to < 12 && stands(mover, to))) continue;
        if (chosen < 0 || from > at[mover][chosen]) chosen = k;
      }
      if (chosen < 0) continue;
      const int to = at[mover][chosen] += step;
      if (to > 0 && to < 12)
        for (int& rival : at[1 - mover])
          if (rival == to) {
            rival = 0;
            break;
          }
    } while (at[mover][0] + at[mover][1] + at[mover][2] < 36);
    ++n.outcome[mover];
  }
}

// The words of the game, in its order: the secrets first. Each guess is the one that leaves the least to find out.
struct WordGame {
  std::vector<std::string> words;
  size_t secrets = 0;
  std::vector<uint16_t> marks;  // of each word against each secret, as a number to the base 3

  WordGame(const char* path, size_t secret_count) : secrets(secret_count) {
    std::ifstream in(path);
    for (std::string word; in >> word;) words.push_back(word);
    for (const std::string& guess : words)
      for (size_t s = 0; s < secrets; ++s) marks.push_back(mark(guess, words[s]));
  }

  static uint16_t mark(const std::string& guess, const std::string& secret) {
    int got[6] = {}, code = 0;
    bool used[6] = {};
    for (int k = 0; k < 6; ++k)
      if (guess[k] == secret[k]) got[k] = 2, used[k] = true;
    for (int k = 0; k < 6; ++k)
      for (int j = 0; j < 6 && got[k] == 0; ++j)
        if (!used[j] && guess[k] == secret[j]) got[k] = 1, used[j] = true;
    for (int k = 6; k-- > 0;) code = code * 3 + got[k];
    return static_cast<uint16_t>(code);
  }

  size_t best_guess(const std::vector<size_t>& left) const {
    static double surprise[1024];
    if (surprise[2] == 0)
      for (int k = 1; k < 1024; ++k) surprise[k] = k * std::log(k);
    size_t best = 0;
    double least = 1e300;
    std::vector<int> sizes;
    for (size_t g = 0; g < words.size(); ++g) {
      int pile[729] = {};
      for (size_t s : left) ++pile[marks[g * secrets + s]];
      sizes.clear();
      for (int size : pile)
        if (size > 1) sizes.push_back(size);
      std::sort(sizes.begin(), sizes.end(), std::greater<int>());  // always summed in the same order
      double sum = 0;
      for (int size : sizes) sum += surprise[size];
      if (sum < least) {
        least = sum;
        best = g;
      }
    }
    return best;
  }

  void play(uint64_t seed, uint64_t rounds, Counts& n) const {
    const uint64_t secret_key = source_key(seed, "secret"), pick_key = source_key(seed, "chance of guesser");
    std::vector<size_t> all(secrets);
    for (size_t s = 0; s < secrets; ++s) all[s] = s;
    const size_t opening = best_guess(all);
    for (uint64_t unit = 1; unit <= rounds; ++unit) {
      uint64_t secrets_stream = stream_start(secret_key, unit), picks = stream_start(pick_key, unit);
      const size_t secret = uniform_below(&secrets_stream, static_cast<uint32_t>(secrets));
      std::vector<size_t> left = all;
      int tries = 0;
      bool found = false;
      while (tries < 7 && !found) {
        const size_t guess = tries == 0         ? opening
                             : left.size() <= 2 ? left[uniform_below(&picks, static_cast<uint32_t>(left.size()))]
                                                : best_guess(left);
        ++tries;
        found = guess == secret;
        const uint16_t recorded = marks[guess * secrets + secret];
        size_t kept = 0;
        for (size_t s : left)
          if (marks[guess * secrets + s] == recorded) left[kept++] = s;
        left.resize(kept);
      }
      ++n.outcome[found ? 0 : 1];
      ++n.record[0][found ? tries : 8];
    }
  }
};

using Play = void (*)(uint64_t, uint64_t, Counts&);
const std::map<std::string, Play> games{
    {"open-shoe", open_shoe},   {"six-packs", six_packs},   {"high-water", high_water},  {"three-rolls", three_rolls},
    {"five-signs", five_signs}, {"six-shells", six_shells}, {"three-crabs", three_crabs}};

}  // namespace

// hand GAME ROUNDS SEED, or hand tide-words ROUNDS SEED WORDS SECRETS: prints the processor
// seconds, the sum of what is recorded first, then the outcome counts.
int main(int argc, char** argv) {
  if (argc < 4) return 2;
  const std::string game = argv[1];
  const uint64_t rounds = std::strtoull(argv[2], nullptr, 10), seed = std::strtoull(argv[3], nullptr, 10);
  static Counts counts;
  const std::clock_t start = std::clock();
  if (game == "tide-words" && argc == 6)
    WordGame(argv[4], std::strtoull(argv[5], nullptr, 10)).play(seed, rounds, counts);
  else if (games.count(game) == 1) games.at(game)(seed, rounds, counts);
  else return 2;
  const double took = static_cast<double>(std::clock() - start) / CLOCKS_PER_SEC;
  uint64_t record_sum = 0;
  for (uint64_t k = 0; k < 512; ++k) record_sum += k * counts.record[0][k];
  std::printf("%.6f %llu", took, static_cast<unsigned long long>(record_sum));
  for (uint64_t k : counts.outcome) std::printf(" %llu", static_cast<unsigned long long>(k));
  std::printf("\n");
}
