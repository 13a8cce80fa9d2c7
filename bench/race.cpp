// Best play of the race to 100 written by hand, as a careful programmer would: prints what the first to move wins, and
// the seconds that it took. Value iteration over pairs of scores, those that are nearest to the goal first.
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <vector>

namespace {

constexpr int kGoal = 100, kFaces = 6;
constexpr double kEnough = 1e-14;

// For the seat that moves, with this score, against that of the other: what it wins with each pot.
using Row = std::vector<double>;
std::vector<std::vector<Row>> wins(kGoal, std::vector<Row>(kGoal));

// Before a throw, with this pot in hand.
double thrown(int mine, int other, int pot) {
  double sum = 1 - wins[other][mine][0];  // a one: the turn is lost
  for (int face = 2; face <= kFaces; ++face) {
    const int next = pot + face;
    sum += mine + next >= kGoal ? 1 : wins[mine][other][next];
  }
  return sum / kFaces;
}

// Goes over all pots once; gives by how much a worth has changed at most.
double swept(int mine, int other) {
  double change = 0;
  Row& row = wins[mine][other];
  for (int pot = kGoal - mine - 1; pot >= 0; --pot) {
    double worth = thrown(mine, other, pot);
    if (pot > 0) worth = std::max(worth, 1 - wins[other][mine + pot][0]);
    change = std::max(change, std::fabs(worth - row[pot]));
    row[pot] = worth;
  }
  return change;
}

}  // namespace

int main() {
  const auto begin = std::chrono::steady_clock::now();
  for (int a = 0; a < kGoal; ++a)
    for (int b = 0; b < kGoal; ++b) wins[a][b].assign(kGoal - a, 0.5);
  for (int sum = 2 * (kGoal - 1); sum >= 0; --sum)
    for (int a = std::min(sum, kGoal - 1); 2 * a >= sum; --a) {
      const int b = sum - a;
      while (std::max(swept(a, b), swept(b, a)) > kEnough) {}
    }
  const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begin;
  std::printf("%.12f %.3f\n", wins[0][0][0], took.count());
}
