#include "best.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace basanos {
namespace {

using Edge = PlayGraph::Edge;
constexpr double kNone = std::numeric_limits<double>::quiet_NaN();
constexpr double kFar = std::numeric_limits<double>::infinity();
constexpr double kMet = 1e-13;    // bounds that are as near as this, of the scale, have met
constexpr double kEqual = 1e-9;   // answers that are as near as this, of the scale, are worth the same
constexpr size_t kMostSweeps = 200000;
constexpr size_t kVisitsBetweenPolls = 1 << 18;

Components components_of(const PlayGraph& graph) {
  const auto target = [&graph](size_t edge) {
    const uint32_t to = graph.target(edge);
    return PlayGraph::is_node(to) ? static_cast<int64_t>(to) : int64_t{-1};
  };
  return ComponentSearch(graph.first_edges(), target).search();
}

// Keeps the better of two answers: the greater where `side` is 1, the less where it is -1.
inline void choose(int side, const Bounds& worth, Bounds& best) {
  if (std::isnan(worth.lower)) return;
  if (std::isnan(best.lower)) best = worth;
  else if (side > 0) best = {std::max(best.lower, worth.lower), std::max(best.upper, worth.upper)};
  else best = {std::min(best.lower, worth.lower), std::min(best.upper, worth.upper)};
}

}  // namespace

// Some nodes that lead to each other, by numbers of their own: what leads out of them is known, and summed up before.
class BestPlay::Circle {
 public:
  Circle(BestPlay& best, const uint32_t* from, const uint32_t* to) : best_(best), from_(from), to_(to) {
    for (const uint32_t* node = from; node != to; ++node) add(*node);
  }

  // Is anything paid on the way round?
  bool pays() const { return pays_; }

  // Gauss-Seidel sweeps from the least and from the greatest worth that there can be, until they meet.
  bool solve(const std::function<bool()>& go_on) {
    if (pays_ || least_ > greatest_) least_ = -kFar, greatest_ = kFar;  // it has no end, or no bound
    worths_.assign(nodes_.size(), {least_, greatest_});
    const double enough = kMet * std::max(std::abs(greatest_), std::abs(least_));
    size_t visits = 0;
    for (size_t sweep = 0; sweep < kMostSweeps && !swept(enough); ++sweep) {
      visits += nodes_.size();
      if (visits < kVisitsBetweenPolls) continue;
      visits = 0;
      if (!go_on()) return false;
    }
    for (size_t k = 0; k < nodes_.size(); ++k) {
      best_.lower_[from_[k]] = worths_[k].lower;
      best_.upper_[from_[k]] = worths_[k].upper;
    }
    return true;
  }

 private:
  struct Inner {
    uint32_t to;
    double probability;
  };
  struct Node {
    size_t first;    // of its inner edges
    int side;        // 0 a draw, 1 the greatest of its answers, -1 the least
    Bounds outside;  // what is drawn, or the best answer, among what leads out; not a number: no such answer
  };

  void add(uint32_t node) {
    const bool decides = best_.graph_.is_decision(node);
    Node here{inner_.size(), decides ? (best_.side_ * best_.graph_.sign(node) > 0 ? 1 : -1) : 0, {kNone, kNone}};
    if (decides) add_answers(node, here);
    else add_draw(node, here);
    nodes_.push_back(here);
  }

  void add_answers(uint32_t node, Node& here) {
    for (const Edge* edge = best_.graph_.begin(node); edge != best_.graph_.end(node); ++edge) {
      if (is_inside(*edge)) {
        pays_ = pays_ || best_.graph_.value(*edge) != 0;
        inner_.push_back({number_of(edge->to), 1});
        continue;
      }
      const Bounds worth = best_.worth_of(node, *edge);
      note(worth);
      choose(here.side, worth, here.outside);
    }
  }

  void add_draw(uint32_t node, Node& here) {
    pays_ = pays_ || best_.graph_.pays_on_the_way(node);
    here.outside = {best_.graph_.reward(node), best_.graph_.reward(node)};
    for (const Edge* edge = best_.graph_.begin(node); edge != best_.graph_.end(node); ++edge) {
      const double probability = best_.graph_.value(*edge);
      if (is_inside(*edge)) inner_.push_back({number_of(edge->to), probability});
      else if (edge->to == PlayGraph::kEnd) {
        const double end = best_.graph_.reward(node) / probability;
        note({end, end});
      } else {
        const Bounds there = best_.of_target(edge->to);
        note(there);
        here.outside.lower += probability * there.lower;
        here.outside.upper += probability * there.upper;
      }
    }
  }

  // One sweep. Have the bounds met, or do they change no more?
  bool swept(double enough) {
    double apart = 0;
    bool changed = false;
    size_t end = inner_.size();
    for (size_t k = nodes_.size(); k-- > 0;) {
      const Node& node = nodes_[k];
      const Bounds worth = evaluated(node, inner_.data() + node.first, inner_.data() + end);
      end = node.first;
      changed = changed || worth.lower != worths_[k].lower || worth.upper != worths_[k].upper;
      worths_[k] = worth;
      if (worth.upper > worth.lower) apart = std::max(apart, worth.upper - worth.lower);
    }
    return apart <= enough || !changed;
  }

  Bounds evaluated(const Node& node, const Inner* edge, const Inner* end) const {
    Bounds worth = node.outside;
    if (node.side == 0) for (; edge != end; ++edge) {
      worth.lower += edge->probability * worths_[edge->to].lower;
      worth.upper += edge->probability * worths_[edge->to].upper;
    }
    else for (; edge != end; ++edge) choose(node.side, worths_[edge->to], worth);
    return worth;
  }

  void note(const Bounds& worth) {
    if (std::isnan(worth.lower)) return;
    least_ = std::min(least_, worth.lower);
    greatest_ = std::max(greatest_, worth.upper);
  }

  bool is_inside(const Edge& edge) const {
    return PlayGraph::is_node(edge.to) && std::binary_search(from_, to_, edge.to);
  }
  uint32_t number_of(uint32_t node) const { return static_cast<uint32_t>(std::lower_bound(from_, to_, node) - from_); }

  BestPlay& best_;
  const uint32_t *const from_, *const to_;
  std::vector<Node> nodes_;
  std::vector<Inner> inner_;
  std::vector<Bounds> worths_;
  double least_ = kFar, greatest_ = -kFar;
  bool pays_ = false;
};

BestPlay::BestPlay(const PlayGraph& graph) : graph_(graph), components_(components_of(graph)) {}

// Component by component, first those that lead to no other.
bool BestPlay::solve(const std::function<bool()>& go_on, bool worst) {
  side_ = worst ? -1 : 1;
  lower_.assign(graph_.count(), 0);
  upper_.assign(graph_.count(), 0);
  size_t visits = 0;
  for (size_t k = 0; k < components_.count(); ++k) {
    const uint32_t* const from = components_.begin(k);
    const uint32_t* const to = components_.end(k);
    const bool alone = to - from == 1 && std::none_of(graph_.begin(*from), graph_.end(*from),
                                                      [from](const Edge& edge) { return edge.to == *from; });
    if (!alone) {
      Circle circle(*this, from, to);
      goes_round_ = goes_round_ || circle.pays();
      if (!circle.solve(go_on)) return false;
    } else {
      const Bounds worth = evaluated(*from);
      lower_[*from] = worth.lower;
      upper_[*from] = worth.upper;
    }
    if (++visits % kVisitsBetweenPolls == 0 && !go_on()) return false;
  }
  const auto [least, greatest] = std::minmax_element(lower_.begin(), lower_.end(), [](double a, double b) {
    return (std::isfinite(a) ? a : 0) < (std::isfinite(b) ? b : 0);
  });
  if (!lower_.empty() && std::isfinite(*greatest - *least)) scale_ = std::max(1e-300, *greatest - *least);
  return true;
}

Bounds BestPlay::of_target(uint32_t to) const {
  if (PlayGraph::is_node(to)) return {lower_[to], upper_[to]};
  if (to == PlayGraph::kEnd) return {0, 0};
  if (to == PlayGraph::kFailed) return {kNone, kNone};
  const DecisionJob& job = graph_.job();
  return job.has_range ? Bounds{job.least, job.greatest} : Bounds{-kFar, kFar};
}

Bounds BestPlay::worth_of(size_t node, const Edge& edge) const {
  const Bounds there = of_target(edge.to);
  const double now = graph_.is_decision(node) ? graph_.value(edge) : 0;
  return {there.lower + now, there.upper + now};
}

// Of a draw the mean; of a decision the best answer that can be gone on from.
Bounds BestPlay::evaluated(size_t node) const {
  if (!graph_.is_decision(node)) {
    Bounds sum{graph_.reward(node), graph_.reward(node)};
    for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge) {
      const Bounds there = of_target(edge->to);
      const double probability = graph_.value(*edge);
      sum.lower += probability * there.lower;
      sum.upper += probability * there.upper;
    }
    return sum;
  }
  const int side = side_ * graph_.sign(node) > 0 ? 1 : -1;
  Bounds best{kNone, kNone};
  for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge)
    choose(side, worth_of(node, *edge), best);
  return best;
}

Bounds BestPlay::at_start() const {
  const Bounds there = of_target(graph_.first_node());
  return {there.lower + graph_.start_reward(), there.upper + graph_.start_reward()};
}

bool BestPlay::fails() const { return std::isnan(at_start().lower); }

// The number of the edge.
size_t BestPlay::chosen(size_t node) const {
  const double sign = side_ * graph_.sign(node);
  size_t best = 0;
  double worth = kNone;
  for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge) {
    const double there = sign * worth_of(node, *edge).middle();
    if (std::isnan(there) || (!std::isnan(worth) && there <= worth + kEqual * scale_)) continue;
    worth = there;
    best = static_cast<size_t>(edge - graph_.begin(node));
  }
  return best;
}

void BestPlay::send(size_t node, double weight) {
  const auto to = [this](const Edge& edge, double part) {
    if (PlayGraph::is_node(edge.to)) arriving_[edge.to] += part;
  };
  reach_[node] += weight;
  if (graph_.is_decision(node)) return to(graph_.begin(node)[chosen(node)], weight);
  for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge) to(*edge, weight * graph_.value(*edge));
}

// How often each node is come to.
void BestPlay::follow() {
  reach_.assign(graph_.count(), 0);
  arriving_.assign(graph_.count(), 0);
  if (PlayGraph::is_node(graph_.first_node())) arriving_[graph_.first_node()] = 1;
  for (size_t k = components_.count(); k-- > 0;) {
    const uint32_t* const from = components_.begin(k);
    const uint32_t* const to = components_.end(k);
    for (size_t sweep = 0; sweep < kMostSweeps; ++sweep) {
      double moving = 0;
      for (const uint32_t* node = from; node != to; ++node) {
        const double weight = arriving_[*node];
        arriving_[*node] = 0;
        if (weight > 0) send(*node, weight);
      }
      for (const uint32_t* node = from; node != to; ++node) moving += arriving_[*node];
      if (moving < 1e-12) break;
    }
  }
}

Situation BestPlay::situation(size_t node) const {
  Situation here{node, reach_[node], {}};
  for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge)
    here.worths.push_back(worth_of(node, *edge));
  return here;
}

std::vector<Situation> BestPlay::situations(size_t most) const {
  std::vector<uint32_t> nodes;
  for (size_t node = 0; node < graph_.count(); ++node)
    if (graph_.is_decision(node) && reach_[node] > 0) nodes.push_back(static_cast<uint32_t>(node));
  const auto before = [this](uint32_t a, uint32_t b) { return reach_[a] != reach_[b] ? reach_[a] > reach_[b] : a < b; };
  most = std::min(most, nodes.size());
  std::partial_sort(nodes.begin(), nodes.begin() + static_cast<std::ptrdiff_t>(most), nodes.end(), before);
  std::vector<Situation> all;
  for (size_t k = 0; k < most; ++k) all.push_back(situation(nodes[k]));
  return all;
}

std::vector<SiteUse> BestPlay::uses() const {
  std::vector<SiteUse> all(graph_.job().signs.size());
  for (size_t node = 0; node < graph_.count(); ++node) {
    if (!graph_.is_decision(node) || !(reach_[node] > 0)) continue;
    SiteUse& use = all[static_cast<size_t>(graph_.site(node))];
    if (graph_.cut_to(node) >= 0) {
      use.met += reach_[node];
      use.matters += reach_[node];
      use.to_next = use.to_worst = kNone;  // the others were not looked at
      continue;
    }
    std::vector<double> worths;
    for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge) {
      const double worth = graph_.sign(node) * worth_of(node, *edge).middle();
      if (!std::isnan(worth)) worths.push_back(worth);
    }
    if (worths.size() < 2) continue;
    std::sort(worths.rbegin(), worths.rend());
    use.met += reach_[node];
    if (worths.front() - worths.back() > kEqual * scale_) use.matters += reach_[node];
    use.to_next += reach_[node] * (worths[0] - worths[1]);
    use.to_worst += reach_[node] * (worths.front() - worths.back());
  }
  return all;
}

}  // namespace basanos
