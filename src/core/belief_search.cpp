#include "belief_search.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace basanos {
namespace {

constexpr double kInfinity = std::numeric_limits<double>::infinity();
constexpr double kUnknown = std::numeric_limits<double>::quiet_NaN();
constexpr double kEqual = 1e-10;  // gains that are as near, of the greater, are the same
constexpr double kRanked = 1e9;   // answers are ordered by bounds that are rounded, so that equal ones are equal
constexpr uint64_t kLookEvery = 256;  // visits, at the limits
constexpr int kDeepest = 2000;    // decisions one after another: play may have no end

double near(double gain) { return kEqual * std::max(1.0, std::abs(gain)); }
double rank(double gain) { return std::round(gain * kRanked); }

}  // namespace

BeliefSearch::BeliefSearch(const Prepared& program, DecisionJob job, Aim aim, LaterDraws later)
    : program_(program.ready), job_(std::move(job)), aim_(aim),
      sure_(aim == Aim::worst || later == LaterDraws::refused), sign_(job_.signs.empty() ? 1 : job_.signs[0]),
      limits_(job_), rewards_(program_, job_.objective, {}),
      ways_from_(program_, job_.seats, rewards_, nullptr, [this] { return count_visit(1); }) {}

GraphEnd BeliefSearch::search(const GraphPoll& poll) {
  poll_ = &poll;
  Ways::Way first = ways_from_.first();
  double coming = 0;
  for (const Ways::Arrival& a : first.arrivals) coming += a.probability;
  // The worst case takes each end by itself; a mean over some of them would hide it.
  if (first.fails || (aim_ == Aim::worst && (coming < 1 - 1e-12 || first.reward != 0))) fits_ = false;
  if (ended()) return limit_;
  std::vector<Child> roots;
  for (const auto& [number, probability] : beliefs_.of(first.arrivals))
    roots.push_back({number, aim_ == Aim::mean ? probability : 0});
  for (const Child& root : roots) greedy(root.belief);
  set_value(roots, sign_ * first.reward);
  for (const Child& root : roots)
    if (!ended()) solve(root.belief, -kInfinity, roots.size() == 1 ? &firsts_ : nullptr);
  set_value(roots, sign_ * first.reward);
  if (ended()) firsts_.clear();
  return limit_;
}

void BeliefSearch::set_value(const std::vector<Child>& roots, double gain) {
  Candidate all{0, 0, 0, true, gain, roots};
  if (aim_ == Aim::worst) all.gain = kInfinity;
  const double upper = joined(all, &Node::upper), lower = joined(all, &Node::lower);
  value_ = as_worth(lower, upper);
}

// Sums of many parts may come out a little beyond the ends of what a unit can be worth.
Bounds BeliefSearch::as_worth(double lower, double upper) const {
  Bounds worth = sign_ > 0 ? Bounds{lower, upper} : Bounds{-upper, -lower};
  if (!is_bounded()) return worth;
  worth.lower = std::clamp(worth.lower, job_.least, job_.greatest);
  worth.upper = std::clamp(worth.upper, job_.least, job_.greatest);
  return worth;
}

bool BeliefSearch::count_visit(uint64_t visits) {
  const size_t bytes = ways_from_.bytes() + beliefs_.bytes() + arrivals_.size() * sizeof(Arrival) +
                       nodes_.size() * sizeof(Node) + ways_.size() * 64;
  const uint64_t before = visited_ / kLookEvery;
  visited_ += visits;
  const uint64_t now = visited_ / kLookEvery;
  if (now != before && limit_ == GraphEnd::done) limit_ = limits_.reached(now * kLookEvery, bytes, *poll_);
  return limit_ == GraphEnd::done;
}

const BeliefSearch::KnownWay& BeliefSearch::way(State state, size_t answer) {
  if (ways_.size() <= state) ways_.resize(std::max<size_t>(ways_from_.count(), state + 1));
  if (ways_[state].empty()) ways_[state].resize(ways_from_.answers(state));
  KnownWay& known = ways_[state][answer];
  if (known.known) return known;
  const Ways::Way found = ways_from_.after(state, answer);
  KnownWay told{static_cast<uint32_t>(arrivals_.size()), static_cast<uint32_t>(found.arrivals.size()),
                sign_ * found.reward, true};
  fits_ = fits_ && !found.fails;
  double coming = 0;
  for (const Ways::Arrival& a : found.arrivals) {
    arrivals_.push_back({a.seen[0], a.state, a.probability});
    coming += a.probability;
  }
  const bool is_sure = found.arrivals.empty() || (found.arrivals.size() == 1 && coming > 1 - 1e-12);
  fits_ = fits_ && (!sure_ || is_sure);
  return ways_[state][answer] = told;
}

// What a state is worth at most, where it is seen.
double BeliefSearch::seen_through(State state) {
  if (seen_through_.size() <= state) seen_through_.resize(std::max<size_t>(ways_from_.count(), state + 1), kUnknown);
  if (!std::isnan(seen_through_[state])) return seen_through_[state];
  if (++depth_ > kDeepest) fits_ = false;
  double best = -kInfinity;
  const double most = !is_bounded() ? kInfinity : sign_ > 0 ? job_.greatest : -job_.least;
  const size_t answers = ways_from_.answers(state);
  // Answers that end the unit come first: one of them may bring the greatest gain.
  for (size_t answer = 0; answer < answers && !ended(); ++answer) {
    const KnownWay here = way(state, answer);
    if (here.count == 0) best = std::max(best, here.gain);
  }
  for (size_t answer = 0; answer < answers && best < most && !ended(); ++answer) {
    const KnownWay here = way(state, answer);
    if (here.count == 0) continue;
    double gain = here.gain;
    for (uint32_t k = here.first; k < here.first + here.count && !ended(); ++k)
      gain += arrivals_[k].probability * seen_through(arrivals_[k].state);
    best = std::max(best, gain);
  }
  --depth_;
  if (seen_through_.size() <= state) seen_through_.resize(ways_from_.count(), kUnknown);
  return seen_through_[state] = best;
}

// Every answer with the most that it can be worth, the best first; of equal ones that which splits the situation more.
std::vector<BeliefSearch::Candidate> BeliefSearch::candidates(uint32_t belief) {
  const std::vector<Beliefs::Weighted> here = beliefs_.states(belief);
  const size_t answers = ways_from_.answers(here[0].state);  // the seat sees them: those of all states here
  std::vector<Candidate> all;
  struct Part {
    SeenHash seen;
    double weight;
  };
  std::vector<Part> parts;
  for (size_t answer = 0; answer < answers && !ended(); ++answer) {
    Candidate candidate{answer, aim_ == Aim::mean ? 0 : kInfinity, 0, false, 0, {}};
    parts.clear();
    for (const Beliefs::Weighted& each : here) {
      if (ended()) return all;
      const KnownWay known = way(each.state, answer);
      const double probability = each.probability;
      double gain = known.gain;
      for (uint32_t k = known.first; k < known.first + known.count; ++k) {
        gain += arrivals_[k].probability * seen_through(arrivals_[k].state);
        parts.push_back({arrivals_[k].seen, probability * arrivals_[k].probability});
      }
      if (aim_ == Aim::mean) candidate.bound += probability * gain;
      else candidate.bound = std::min(candidate.bound, gain);
    }
    std::sort(parts.begin(), parts.end(), [](const Part& a, const Part& b) { return a.seen < b.seen; });
    for (size_t from = 0, to = 0; from < parts.size(); from = to) {
      double weight = 0;
      for (; to < parts.size() && parts[to].seen == parts[from].seen; ++to) weight += parts[to].weight;
      if (aim_ == Aim::mean) candidate.spread += weight * weight;
      else candidate.spread = std::max(candidate.spread, weight);
    }
    all.push_back(candidate);
  }
  count_visit(answers);
  std::sort(all.begin(), all.end(), [](const Candidate& a, const Candidate& b) {
    if (rank(a.bound) != rank(b.bound)) return rank(a.bound) > rank(b.bound);
    if (rank(a.spread) != rank(b.spread)) return rank(a.spread) < rank(b.spread);
    return a.answer < b.answer;
  });
  return all;
}

// What the seat may know after the answer.
void BeliefSearch::split(uint32_t belief, Candidate& candidate) {
  std::vector<Ways::Arrival> arrivals;
  candidate.split = true;
  candidate.gain = aim_ == Aim::mean ? 0 : kInfinity;
  double on_the_way = kUnknown;
  for (const Beliefs::Weighted& each : beliefs_.states(belief)) {
    const KnownWay known = way(each.state, candidate.answer);
    const double probability = each.probability;
    for (uint32_t k = known.first; k < known.first + known.count; ++k)
      arrivals.push_back({{arrivals_[k].seen, {}}, arrivals_[k].state, probability * arrivals_[k].probability});
    if (aim_ == Aim::mean) {
      candidate.gain += probability * known.gain;
    } else if (known.count == 0) {
      candidate.gain = std::min(candidate.gain, known.gain);
    } else {
      // The gain on the way must be the same for all states, else the worst end would depend on what is not seen.
      fits_ = fits_ && (std::isnan(on_the_way) || on_the_way == known.gain);
      on_the_way = known.gain;
    }
  }
  for (const auto& [number, weight] : beliefs_.of(arrivals))
    candidate.children.push_back({number, aim_ == Aim::mean ? weight : on_the_way});
  for (const Child& child : candidate.children) node(child.belief);
  candidate.bound = std::min(candidate.bound, joined(candidate, &Node::upper));
}

// What an answer comes to where each of its children is worth this end of what is known of it.
double BeliefSearch::joined(const Candidate& candidate, double Node::*end) const {
  double all = candidate.gain;
  for (const Child& child : candidate.children) {
    const double known = nodes_[child.belief].*end;
    if (aim_ == Aim::mean) all += child.weight * known;
    else all = std::min(all, child.weight + known);
  }
  return all;
}

// Nothing is known of a new situation but what it can be worth at most.
BeliefSearch::Node& BeliefSearch::node(uint32_t belief) {
  if (nodes_.size() <= belief) nodes_.resize(beliefs_.count(), Node{-kInfinity, kInfinity});
  if (nodes_[belief].upper == kInfinity) {
    const std::vector<Candidate> all = candidates(belief);
    if (!all.empty() && !ended()) nodes_[belief].upper = all[0].bound;
  }
  return nodes_[belief];
}

// What it is worth to give the answer that looks best, each time.
double BeliefSearch::greedy(uint32_t belief) {
  if (node(belief).lower > -kInfinity || ended()) return nodes_[belief].lower;
  if (++depth_ > kDeepest) fits_ = false;
  std::vector<Candidate> all = candidates(belief);
  if (!all.empty() && !ended()) {
    split(belief, all[0]);
    for (const Child& child : all[0].children) greedy(child.belief);
    if (!ended()) nodes_[belief].lower = joined(all[0], &Node::lower);
  }
  --depth_;
  return nodes_[belief].lower;
}

// Finds the worth of a situation; or only that it is not more than `enough`.
void BeliefSearch::solve(uint32_t belief, double enough, std::vector<Bounds>* firsts) {
  if (ended() || (!firsts && (node(belief).is_solved() || nodes_[belief].upper <= enough))) return;
  greedy(belief);
  if (++depth_ > kDeepest) fits_ = false;
  std::vector<Candidate> open = candidates(belief);
  if (firsts) firsts->assign(open.size(), Bounds{-kInfinity, kInfinity});
  const size_t tried = open.empty() ? 0 : open[0].answer;  // by greedy()
  const double tried_lower = nodes_[belief].lower;
  const auto told = [&](const Candidate& c, double lower) {
    if (firsts) (*firsts)[c.answer] = as_worth(c.answer == tried ? std::max(lower, tried_lower) : lower, c.bound);
  };
  const auto less = [](const Candidate& a, const Candidate& b) {
    if (rank(a.bound) != rank(b.bound)) return rank(a.bound) < rank(b.bound);
    return a.split != b.split ? b.split : rank(a.spread) > rank(b.spread);
  };
  std::make_heap(open.begin(), open.end(), less);
  double best = nodes_[belief].lower;
  double upper = -kInfinity;  // of what was left aside
  double sound = kInfinity;   // of all answers, as known before the last step: a step that met a limit tells nothing
  while (!open.empty() && !ended()) {
    std::pop_heap(open.begin(), open.end(), less);
    Candidate next = std::move(open.back());
    open.pop_back();
    sound = std::max(upper, next.bound + 1 / kRanked);
    const double wanted = std::max(best, enough);
    if (next.bound <= wanted + near(wanted)) {
      upper = std::max(upper, next.bound);
      told(next, -kInfinity);
      for (const Candidate& c : open) told(c, -kInfinity);
      open.clear();
      break;
    }
    if (!next.split) {
      split(belief, next);
    } else if (solve_children(next, wanted)) {
      const double lower = joined(next, &Node::lower);
      best = std::max(best, lower);
      next.bound = lower;
      upper = std::max(upper, lower);
      told(next, lower);
      continue;
    } else {
      next.bound = std::min(next.bound, joined(next, &Node::upper));
    }
    open.push_back(std::move(next));
    std::push_heap(open.begin(), open.end(), less);
  }
  for (const Candidate& c : open) {
    upper = std::max(upper, c.bound);
    told(c, -kInfinity);
  }
  --depth_;
  if (ended()) upper = sound;
  Node& here = nodes_[belief];
  here.lower = std::max(here.lower, best);
  if (upper > -kInfinity) here.upper = std::max(here.lower, std::min(here.upper, upper));
  if (!ended() && here.upper <= here.lower + near(here.lower)) here.upper = here.lower;
}

// Are all children solved? No, as soon as the answer cannot be worth more than `enough` any longer.
bool BeliefSearch::solve_children(Candidate& candidate, double enough) {
  for (const Child& child : candidate.children) {
    if (nodes_[child.belief].is_solved()) continue;
    const double upper = nodes_[child.belief].upper;
    const double needed = aim_ == Aim::worst ? enough - child.weight
                                             : upper - (joined(candidate, &Node::upper) - enough) / child.weight;
    solve(child.belief, needed, nullptr);
    const double now = joined(candidate, &Node::upper);
    if (ended() || now <= enough + near(enough)) return false;
  }
  return std::all_of(candidate.children.begin(), candidate.children.end(),
                     [this](const Child& child) { return nodes_[child.belief].is_solved(); });
}

}  // namespace basanos
