// Chains of states, against probabilities worked by hand; components, against what leads to what.
#include <random>

#include "../../src/core/components.h"
#include "../../src/core/markov.h"
#include "test.h"

using namespace basanos;

namespace {

const auto go_on = [] { return true; };
constexpr double kNegligible = 1e-14;

struct Solved {
  Weight left;
  std::vector<Weight> ended;
};

Solved solve(MarkovChain& chain, size_t states, size_t ends, size_t rotations = 1) {
  std::vector<Weight> at(states * rotations), ended(ends * rotations);
  at[0] = 1;
  const Weight left = chain.solve(at, ended, kNegligible, go_on);
  return {left, ended};
}

bool near(Weight a, Weight b) { return std::fabs(static_cast<double>(a - b)) < 1e-14; }

// A walk over 0 .. n - 1 that ends below (end 0) with the gambler's ruin, (n - start) / (n + 1), or above (end 1).
// Backwards the last place has number 0.
void walk(size_t n, size_t start, bool backwards) {
  const auto number = [&](size_t place) { return static_cast<uint32_t>(backwards ? n - 1 - place : place); };
  MarkovChain chain(1);
  for (size_t k = 0; k < n; ++k) {
    const size_t place = backwards ? n - 1 - k : k;
    if (place == 0) chain.add_edge_to_end(0, 0.5);
    else chain.add_edge(number(place - 1), 0.5, 0);
    if (place == n - 1) chain.add_edge_to_end(1, 0.5);
    else chain.add_edge(number(place + 1), 0.5, 0);
    chain.close_state();
  }
  std::vector<Weight> at(n), ended(2);
  at[number(start)] = 1;
  const Weight left = chain.solve(at, ended, kNegligible, go_on);
  CHECK(chain.has_cycle());
  CHECK(left <= kNegligible);
  CHECK(near(ended[0], static_cast<Weight>(n - start) / static_cast<Weight>(n + 1)));
  CHECK(near(ended[0] + ended[1] + left, 1));
}

void without_cycle() {
  MarkovChain chain(1);  // 0 leads to 2, 2 to 1: not in the order of their numbers
  chain.add_edge(2, 0.25, 0);
  chain.add_edge(1, 0.75, 0);
  chain.close_state();
  chain.add_edge_to_end(0, 1);
  chain.close_state();
  chain.add_edge(1, 0.5, 0);
  chain.add_edge_to_end(1, 0.5);
  chain.close_state();
  const Solved s = solve(chain, 3, 2);
  CHECK(!chain.has_cycle() && s.left == 0);
  CHECK(near(s.ended[0], 0.875L) && near(s.ended[1], 0.125L));
}

void without_exit() {
  MarkovChain chain(1);  // half of the weight goes round between 1 and 2 for ever
  chain.add_edge(1, 0.5, 0);
  chain.add_edge_to_end(0, 0.5);
  chain.close_state();
  chain.add_edge(2, 1, 0);
  chain.close_state();
  chain.add_edge(1, 1, 0);
  chain.close_state();
  const Solved s = solve(chain, 3, 1);
  CHECK(chain.has_cycle() && s.left == 0.5L && s.ended[0] == 0.5L);
  MarkovChain alone(1);
  alone.add_edge(0, 1, 0);
  alone.close_state();
  CHECK(solve(alone, 1, 1).left == 1);
}

void loops() {
  MarkovChain chain(1);  // again with 0.9: what is left has the proportions of the other edges
  chain.add_edge(0, 0.9, 0);
  chain.add_edge_to_end(0, 0.075);
  chain.add_edge_to_end(1, 0.025);
  chain.close_state();
  const Solved s = solve(chain, 1, 2);
  CHECK(s.left == 0 && near(s.ended[0], 0.75L) && near(s.ended[1], 0.25L));
}

// Two seats take turns and win a turn with 0.2: the first wins 1 / (2 - 0.2) of the rounds. The seats' rotations are
// one state.
void rotations() {
  MarkovChain chain(2);
  chain.add_edge(0, 0.8, 1);
  chain.add_edge_to_end(0, 0.2);
  chain.close_state();
  const Solved s = solve(chain, 1, 1, 2);
  CHECK(chain.has_cycle() && s.left <= kNegligible);
  CHECK(near(s.ended[0], 1 / 1.8L) && near(s.ended[1], 0.8L / 1.8L));
}

void stopped() {
  MarkovChain chain(1);
  constexpr size_t n = 1000;  // a long walk back and forth that hardly ever ends
  for (size_t k = 0; k < n; ++k) {
    chain.add_edge(static_cast<uint32_t>((k + 1) % n), 0.5, 0);
    chain.add_edge(static_cast<uint32_t>((k + n - 1) % n), k == 0 ? 0.5 - 1e-9 : 0.5, 0);
    if (k == 0) chain.add_edge_to_end(0, 1e-9);
    chain.close_state();
  }
  std::vector<Weight> at(n), ended(1);
  at[0] = 1;
  int polls = 0;
  const Weight left = chain.solve(at, ended, kNegligible, [&polls] { return ++polls < 3; });
  CHECK(polls == 3 && left > 0.9L && near(left + ended[0], 1));
}

// Small graphs at random: those of one component lead to each other, a component is behind those that it leads to, and
// where there is no circle a state is behind all that it leads to.
void components_of_random_graphs() {
  std::mt19937 random(5);
  size_t circles = 0;
  for (int k = 0; k < 500; ++k) {
    const size_t n = 1 + random() % 9;
    std::vector<size_t> first{0};
    std::vector<int64_t> to;
    std::vector<std::vector<bool>> leads(n, std::vector<bool>(n));
    for (size_t state = 0; state < n; ++state) {
      for (size_t edges = random() % 3; edges > 0; --edges) {
        to.push_back(static_cast<int64_t>(random() % (n + 1)) - 1);
        if (to.back() >= 0) leads[state][static_cast<size_t>(to.back())] = true;
      }
      first.push_back(to.size());
    }
    for (size_t by = 0; by < n; ++by)
      for (size_t a = 0; a < n; ++a)
        for (size_t b = 0; b < n; ++b) leads[a][b] = leads[a][b] || (leads[a][by] && leads[by][b]);
    const Components all = ComponentSearch(first, [&to](size_t edge) { return to[edge]; }).search();
    CHECK(all.states.size() == n && all.first.back() == n);
    for (size_t a = 0; a < n; ++a) CHECK(all.states[all.place[a]] == a);
    for (size_t component = 0; component < all.count(); ++component)
      for (const uint32_t* a = all.begin(component); a != all.end(component); ++a)
        for (size_t b = 0; b < n; ++b) {
          const bool both = *a == b || (leads[*a][b] && leads[b][*a]);
          CHECK(all.has(component, b) == both);
          if (leads[*a][b] && !both) CHECK(all.place[b] < all.place[*a]);
        }
    circles += all.count() < n;
  }
  CHECK(circles > 50 && circles < 450);
}

}  // namespace

void test_markov() {
  components_of_random_graphs();
  walk(11, 5, false);
  walk(60, 7, false);
  walk(60, 7, true);
  without_cycle();
  without_exit();
  loops();
  rotations();
  stopped();
}
