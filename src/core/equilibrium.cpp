#include "equilibrium.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <limits>
#include <tuple>

namespace basanos {
namespace {

constexpr double kNone = std::numeric_limits<double>::quiet_NaN();
constexpr double kEqual = 1e-5;  // worths that are as near as this, of the scale, are equal
constexpr double kMet = 1e-9;    // what is come to less often is left over of the search
constexpr size_t kSweepsBetweenLooks = 64;

}  // namespace

Equilibrium::Equilibrium(const GameTree& tree) : tree_(tree) {
  const std::vector<double>& signs = tree.job().signs;
  for (size_t seat = 0; seat < 2; ++seat) {
    Side& side = sides_[seat];
    const size_t count = tree.sequences(seat);
    const auto& knowledge = tree.knowledge(seat);
    side.sign = knowledge.empty() ? 1 : signs[static_cast<size_t>(knowledge[0].site)];
    side.regrets.assign(count, 0);
    side.last.assign(count, 0);
    side.shares.assign(count, 0);
    side.plan.assign(count, 0);
    side.sum.assign(count, 0);
    match_regrets(seat);
  }
  if (tree.knowledge(0).empty()) sides_[0].sign = -sides_[1].sign;
  if (tree.knowledge(1).empty()) sides_[1].sign = -sides_[0].sign;
  for (const GameTree::Payoff& payoff : tree.payoffs()) scale_ = std::max(scale_, std::abs(payoff.value));
  lower_ = -std::numeric_limits<double>::infinity();
  upper_ = -lower_;
}

bool Equilibrium::solve(const std::function<bool()>& go_on, double gap, size_t most_sweeps, double seconds) {
  const auto start = std::chrono::steady_clock::now();
  for (sweeps_ = 1; sweeps_ <= most_sweeps; ++sweeps_) {
    for (size_t seat = 0; seat < 2; ++seat) {
      Numbers worth = worths(seat, sides_[1 - seat].plan);
      learn(seat, worth);
      match_regrets(seat);
      Side& side = sides_[seat];
      const double weight = static_cast<double>(sweeps_) * static_cast<double>(sweeps_);
      for (size_t s = 0; s < side.sum.size(); ++s) side.sum[s] += weight * side.plan[s];
    }
    if (sweeps_ % kSweepsBetweenLooks != 0 && sweeps_ != most_sweeps) continue;
    if (look_at_bounds() <= gap * std::max(1.0, scale_)) break;
    if (std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count() > seconds) break;
    if (!go_on()) return false;
  }
  return true;
}

// What each sequence brings at once, where the other seat plays a plan; in the sense of the seat.
Equilibrium::Numbers Equilibrium::worths(size_t seat, const Numbers& against) const {
  Numbers all(tree_.sequences(seat), 0);
  const double sign = sides_[seat].sign;
  for (const GameTree::Payoff& p : tree_.payoffs())
    all[p.sequences[seat]] += sign * p.value * against[p.sequences[1 - seat]];
  return all;
}

// Adds to the regrets. `worths` are completed: what a seat can get later is added to the sequence before.
void Equilibrium::learn(size_t seat, Numbers& worths) {
  Side& side = sides_[seat];
  const auto& knowledge = tree_.knowledge(seat);
  for (size_t k = knowledge.size(); k-- > 0;) {
    const GameTree::Knowledge& here = knowledge[k];
    double mean = 0;
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) mean += side.shares[s] * worths[s];
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) {
      side.last[s] = worths[s] - mean;
      side.regrets[s] = std::max(0.0, side.regrets[s] + side.last[s]);
    }
    worths[here.before] += mean;
  }
}

// Answers get shares by how much they are regretted, with the last sweep foreseen again.
void Equilibrium::match_regrets(size_t seat) {
  Side& side = sides_[seat];
  for (const GameTree::Knowledge& here : tree_.knowledge(seat)) {
    double sum = 0, possible = 0;
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) {
      side.shares[s] = tree_.fails(seat, s) ? 0 : std::max(0.0, side.regrets[s] + side.last[s]);
      sum += side.shares[s];
      possible += tree_.fails(seat, s) ? 0 : 1;
    }
    for (uint32_t s = here.first; s < here.first + here.answers; ++s)
      if (sum > 0) side.shares[s] /= sum;
      else side.shares[s] = tree_.fails(seat, s) ? 0 : 1 / possible;
  }
  write_plan(seat, side.shares, side.plan);
}

void Equilibrium::write_plan(size_t seat, const Numbers& shares, Numbers& plan) const {
  plan[0] = 1;
  for (const GameTree::Knowledge& here : tree_.knowledge(seat))
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) plan[s] = plan[here.before] * shares[s];
}

Equilibrium::Numbers Equilibrium::average(size_t seat) const {
  const Side& side = sides_[seat];
  Numbers shares(side.sum.size(), 0), plan(side.sum.size(), 0);
  for (const GameTree::Knowledge& here : tree_.knowledge(seat)) {
    double sum = 0;
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) sum += side.sum[s];
    for (uint32_t s = here.first; s < here.first + here.answers; ++s)
      shares[s] = sum > 0 ? side.sum[s] / sum : side.shares[s];
  }
  write_plan(seat, shares, plan);
  return plan;
}

// In the sense of the seat.
double Equilibrium::best_against(size_t seat, const Numbers& against) const {
  Numbers worth = worths(seat, against);
  const auto& knowledge = tree_.knowledge(seat);
  for (size_t k = knowledge.size(); k-- > 0;) {
    const GameTree::Knowledge& here = knowledge[k];
    double best = -std::numeric_limits<double>::infinity();
    for (uint32_t s = here.first; s < here.first + here.answers; ++s)
      if (!tree_.fails(seat, s)) best = std::max(best, worth[s]);
    worth[here.before] += best;
  }
  return worth[0];
}

double Equilibrium::look_at_bounds() {
  const double first = sides_[0].sign * best_against(0, average(1));
  const double second = sides_[1].sign * best_against(1, average(0));
  std::tie(lower_, upper_) = std::minmax(first, second);
  return upper_ - lower_;
}

Bounds Equilibrium::value() const { return {lower_, upper_}; }

void Equilibrium::add_mixes(size_t seat, std::vector<Mix>& all) const {
  const auto& knowledge = tree_.knowledge(seat);
  const Side& side = sides_[seat];
  const Numbers own = average(seat), other = average(1 - seat);
  Numbers worth = worths(seat, other), met(knowledge.size(), 0);
  for (const GameTree::Meeting& m : tree_.meetings(seat)) met[m.knowledge] += m.probability * other[m.sequence];
  for (size_t k = knowledge.size(); k-- > 0;) {
    const GameTree::Knowledge& here = knowledge[k];
    Mix mix{seat, k, here.site, met[k] * own[here.before], {}, {}};
    double mean = 0;
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) {
      mix.shares.push_back(own[here.before] > 0 ? own[s] / own[here.before] : side.shares[s]);
      const double there = tree_.fails(seat, s) || met[k] <= 0 ? kNone : side.sign * worth[s] / met[k];
      mix.worths.push_back({there, there});
      mean += mix.shares.back() * worth[s];
    }
    worth[here.before] += mean;
    all.push_back(std::move(mix));
  }
}

std::vector<Equilibrium::Mix> Equilibrium::all_mixes() const {
  std::vector<Mix> all;
  for (size_t seat = 0; seat < 2; ++seat) add_mixes(seat, all);
  return all;
}

std::vector<Equilibrium::Mix> Equilibrium::mixes(size_t most) const {
  std::vector<Mix> all = all_mixes();
  all.erase(std::remove_if(all.begin(), all.end(), [](const Mix& mix) { return mix.reach < kMet; }), all.end());
  std::stable_sort(all.begin(), all.end(), [](const Mix& a, const Mix& b) { return a.reach > b.reach; });
  if (all.size() > most) all.resize(most);
  return all;
}

// Answers that are as near as the bounds are taken as worth the same.
std::vector<SiteUse> Equilibrium::uses() const {
  std::vector<SiteUse> all(tree_.job().signs.size());
  for (const Mix& mix : all_mixes())
    add_use(mix.reach, mix.worths, sides_[mix.seat].sign, kEqual * std::max(1.0, scale_),
            all[static_cast<size_t>(mix.site)]);
  return all;
}

}  // namespace basanos
