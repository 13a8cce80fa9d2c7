#include "best.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <utility>

namespace basanos {
namespace {

using Edge = PlayGraph::Edge;
constexpr double kNone = std::numeric_limits<double>::quiet_NaN();
constexpr double kFar = std::numeric_limits<double>::infinity();
constexpr double kMet = 1e-13;    // bounds that are as near as this, of the scale, have met
constexpr double kEqual = 1e-9;   // answers that are as near as this, of the scale, are worth the same
constexpr double kLeft = 1e-12;   // a weight that is not sent on
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

// What two answers at once are worth, from a matrix of worths in which not all have to be known: answers that fail are
// left out, of the second seat those that fail with all of the first, then of the first those that fail with any.
MatrixGame solve_known(const std::vector<double>& worths, size_t rows, double sign) {
  const size_t columns = worths.size() / rows;
  const auto known = [&](size_t r, size_t c) { return !std::isnan(worths[r * columns + c]); };
  std::vector<size_t> kept_rows, kept_columns;
  for (size_t c = 0; c < columns; ++c) {
    bool any = false;
    for (size_t r = 0; r < rows; ++r) any = any || known(r, c);
    if (any) kept_columns.push_back(c);
  }
  for (size_t r = 0; r < rows; ++r)
    if (std::all_of(kept_columns.begin(), kept_columns.end(), [&](size_t c) { return known(r, c); }))
      kept_rows.push_back(r);
  MatrixGame whole{kNone, std::vector<double>(rows, 0), std::vector<double>(columns, 0)};
  if (kept_rows.empty() || kept_columns.empty()) return whole;
  std::vector<double> left;
  for (const size_t r : kept_rows)
    for (const size_t c : kept_columns) left.push_back(sign * worths[r * columns + c]);
  const MatrixGame game = solve_matrix(left, kept_rows.size());
  whole.value = sign * game.value;
  for (size_t k = 0; k < kept_rows.size(); ++k) whole.rows[kept_rows[k]] = game.rows[k];
  for (size_t k = 0; k < kept_columns.size(); ++k) whole.columns[kept_columns[k]] = game.columns[k];
  return whole;
}

// The bounds of a matrix whose worths lie between bounds.
Bounds solve_between(const std::vector<Bounds>& worths, size_t rows, double sign) {
  std::vector<double> lower, upper;
  for (const Bounds& worth : worths) {
    lower.push_back(worth.lower);
    upper.push_back(worth.upper);
    if (std::isinf(worth.lower) || std::isinf(worth.upper)) return {-kFar, kFar};
  }
  const double least = solve_known(lower, rows, sign).value;
  return {least, lower == upper ? least : solve_known(upper, rows, sign).value};
}

size_t answers_of(const PlayGraph& graph, size_t node) {
  return static_cast<size_t>(graph.end(node) - graph.begin(node));
}

}  // namespace

// A component: nodes that lead to each other, by numbers of their own. What leads out of them is known, and summed up
// before.
class BestPlay::Circle {
 public:
  Circle(BestPlay& best, size_t component)
      : best_(best), component_(component), from_(best.components_.begin(component)) {
    for (const uint32_t* node = from_; node != best.components_.end(component); ++node) add(*node);
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
  static constexpr int kAtOnce = 2, kPassedOver = 3;

  struct Inner {
    uint32_t to;
    double probability;
  };
  struct Node {
    size_t first;    // of its inner edges
    int side;        // 0 a draw, 1 the greatest of its answers, -1 the least; kAtOnce, kPassedOver
    Bounds outside;  // what is drawn, or the best answer, among what leads out; not a number: no such answer
  };
  // Both seats answer at once: the worth of each pair of answers, or the inner node that it leads to, counted from 1.
  struct Matrix {
    double sign;
    size_t rows;
    std::vector<Bounds> worths;
    std::vector<uint32_t> inner;
  };

  void add(uint32_t node) {
    if (best_.at_once_[node] || best_.second_[node]) return add_at_once(node);
    const bool decides = best_.graph_.is_decision(node);
    Node here{inner_.size(), decides ? (best_.side_ * best_.graph_.sign(node) > 0 ? 1 : -1) : 0, {kNone, kNone}};
    if (decides) add_answers(node, here);
    else add_draw(node, here);
    nodes_.push_back(here);
  }

  // The second seat that answers knows no more than the first: it decides with it.
  void add_at_once(uint32_t node) {
    nodes_.push_back({inner_.size(), best_.at_once_[node] ? kAtOnce : kPassedOver, {0, 0}});
    if (!best_.at_once_[node]) return;
    Matrix matrix{best_.side_ * best_.graph_.sign(node), answers_of(best_.graph_, node), {}, {}};
    for (const PlayGraph::Pair& pair : best_.graph_.pairs(node)) {
      const bool inside = is_inside(pair.to);
      const Bounds there = inside ? Bounds{0, 0} : best_.of_target(pair.to);
      matrix.worths.push_back({there.lower + pair.value, there.upper + pair.value});
      matrix.inner.push_back(inside ? number_of(pair.to) + 1 : 0);
      pays_ = pays_ || (inside && pair.value != 0);
      if (!inside) note(matrix.worths.back());
    }
    matrices_.emplace(nodes_.size() - 1, std::move(matrix));
  }

  void add_answers(uint32_t node, Node& here) {
    for (const Edge* edge = best_.graph_.begin(node); edge != best_.graph_.end(node); ++edge) {
      if (is_inside(edge->to)) {
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
      if (is_inside(edge->to)) inner_.push_back({number_of(edge->to), probability});
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

  // One sweep, in the order in which worths come from where a node leads to. Have the bounds met, or do they change no
  // more?
  bool swept(double enough) {
    double apart = 0;
    bool changed = false;
    for (size_t k = 0; k < nodes_.size(); ++k) {
      const Node& node = nodes_[k];
      if (node.side == kPassedOver) {
        worths_[k] = {0, 0};
        continue;
      }
      const size_t end = k + 1 < nodes_.size() ? nodes_[k + 1].first : inner_.size();
      const Bounds worth = node.side == kAtOnce ? evaluated(matrices_.at(k))
                                                : evaluated(node, inner_.data() + node.first, inner_.data() + end);
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

  Bounds evaluated(const Matrix& matrix) const {
    std::vector<Bounds> worths = matrix.worths;
    for (size_t k = 0; k < worths.size(); ++k) {
      if (matrix.inner[k] == 0) continue;
      worths[k].lower += worths_[matrix.inner[k] - 1].lower;
      worths[k].upper += worths_[matrix.inner[k] - 1].upper;
    }
    return solve_between(worths, matrix.rows, matrix.sign);
  }

  void note(const Bounds& worth) {
    if (std::isnan(worth.lower)) return;
    least_ = std::min(least_, worth.lower);
    greatest_ = std::max(greatest_, worth.upper);
  }

  bool is_inside(uint32_t to) const { return PlayGraph::is_node(to) && best_.components_.has(component_, to); }
  uint32_t number_of(uint32_t node) const {
    return static_cast<uint32_t>(best_.components_.place[node] - best_.components_.first[component_]);
  }

  BestPlay& best_;
  const size_t component_;
  const uint32_t* const from_;
  std::vector<Node> nodes_;
  std::vector<Inner> inner_;
  std::unordered_map<size_t, Matrix> matrices_;
  std::vector<Bounds> worths_;
  double least_ = kFar, greatest_ = -kFar;
  bool pays_ = false;
};

void add_use(double reach, const std::vector<Bounds>& worths, double sign, double equal, SiteUse& use) {
  std::vector<double> known;
  for (const Bounds& worth : worths)
    if (!std::isnan(worth.middle())) known.push_back(sign * worth.middle());
  if (known.size() < 2) return;
  std::sort(known.rbegin(), known.rend());
  use.met += reach;
  if (known.front() - known.back() > equal) use.matters += reach;
  use.to_next += reach * (known[0] - known[1]);
  use.to_worst += reach * (known.front() - known.back());
}

BestPlay::BestPlay(const PlayGraph& graph)
    : graph_(graph), components_(components_of(graph)), at_once_(graph.count()), second_(graph.count()) {
  for (size_t node = 0; node < graph.count(); ++node) {
    at_once_[node] = graph.is_at_once(node);
    if (!at_once_[node]) continue;
    for (const Edge* edge = graph.begin(node); edge != graph.end(node); ++edge)
      if (PlayGraph::is_node(edge->to)) second_[edge->to] = true;
  }
}

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
      Circle circle(*this, k);
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

Bounds BestPlay::worth_at_once(size_t node) const {
  std::vector<Bounds> worths;
  for (const PlayGraph::Pair& pair : graph_.pairs(node)) {
    const Bounds there = of_target(pair.to);
    worths.push_back({there.lower + pair.value, there.upper + pair.value});
  }
  return solve_between(worths, answers_of(graph_, node), side_ * graph_.sign(node));
}

// Of a draw the mean; of a decision the best answer that can be gone on from.
Bounds BestPlay::evaluated(size_t node) const {
  if (at_once_[node]) return worth_at_once(node);
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

// Where play goes on to from a node, where all play as well as can be: visits each node and its share.
void BestPlay::each_next(size_t node, const std::function<void(uint32_t, double)>& visit) const {
  const auto to = [&visit](uint32_t target, double share) {
    if (PlayGraph::is_node(target) && share > 0) visit(target, share);
  };
  if (at_once_[node]) {
    const Pairs pairs = graph_.pairs(node);
    const MatrixGame game = game_at(node, pairs);
    for (size_t k = 0; k < pairs.size(); ++k)
      to(pairs[k].to, game.rows[k / game.columns.size()] * game.columns[k % game.columns.size()]);
    return;
  }
  if (graph_.is_decision(node)) return to(graph_.begin(node)[chosen(node)].to, 1);
  for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge) to(edge->to, graph_.value(*edge));
}

// Where both seats answer at once: the first by rows, the other by columns.
MatrixGame BestPlay::game_at(size_t node, const Pairs& pairs) const {
  std::vector<double> worths;
  for (const PlayGraph::Pair& pair : pairs) worths.push_back(of_target(pair.to).middle() + pair.value);
  return solve_known(worths, answers_of(graph_, node), graph_.sign(node));
}

// What is on its way to each node, by places; and where the nodes of a component lead.
struct BestPlay::Flow {
  struct Next {
    uint32_t place;
    double share;
  };
  std::vector<double> arriving;
  std::vector<Next> next;
  std::vector<size_t> first;  // node k of the component leads to next[first[k]] up to next[first[k + 1]]
};

// How often each node is come to: component by component, first those that lead to others.
void BestPlay::follow() {
  reach_.assign(graph_.count(), 0);
  Flow flow{std::vector<double>(graph_.count()), {}, {}};
  if (PlayGraph::is_node(graph_.first_node())) flow.arriving[components_.place[graph_.first_node()]] = 1;
  for (size_t k = components_.count(); k-- > 0;) follow(k, flow);
}

// Gauss-Seidel sweeps over a component, each node before those that it leads to, until nothing is left to send on.
void BestPlay::follow(size_t component, Flow& flow) {
  const uint32_t* const nodes = components_.begin(component);
  const auto count = static_cast<size_t>(components_.end(component) - nodes);
  double* const here = flow.arriving.data() + components_.first[component];
  std::vector<Flow::Next>& next = flow.next;
  std::vector<size_t>& first = flow.first;
  next.clear();
  first.assign(1, 0);
  for (size_t k = 0; k < count; ++k) {
    each_next(nodes[k], [&](uint32_t to, double share) { next.push_back({components_.place[to], share}); });
    first.push_back(next.size());
  }
  for (size_t sweep = 0; sweep < kMostSweeps; ++sweep) {
    for (size_t k = count; k-- > 0;) {
      const double weight = std::exchange(here[k], 0);
      if (weight == 0) continue;
      reach_[nodes[k]] += weight;
      for (size_t n = first[k]; n < first[k + 1]; ++n) flow.arriving[next[n].place] += weight * next[n].share;
    }
    if (std::accumulate(here, here + count, 0.0) < kLeft) break;
  }
}

Situation BestPlay::situation(size_t node) const {
  Situation here{node, reach_[node], {}, {}};
  for (const Edge* edge = graph_.begin(node); edge != graph_.end(node); ++edge)
    here.worths.push_back(worth_of(node, *edge));
  return here;
}

// Of both seats: what each answer is worth against the mix of the other.
std::vector<Situation> BestPlay::situations_at_once(size_t node) const {
  const Pairs pairs = graph_.pairs(node);
  const size_t rows = answers_of(graph_, node), columns = pairs.size() / rows;
  const Edge* const example = std::find_if(graph_.begin(node), graph_.end(node),
                                           [](const Edge& edge) { return PlayGraph::is_node(edge.to); });
  const MatrixGame game = game_at(node, pairs);
  Situation first{node, reach_[node], game.rows, std::vector<Bounds>(rows, {0, 0})};
  Situation second{example->to, reach_[node], game.columns, std::vector<Bounds>(columns, {0, 0})};
  for (size_t r = 0; r < rows; ++r)
    for (size_t c = 0; c < columns; ++c) {
      const PlayGraph::Pair& pair = pairs[r * columns + c];
      const double worth = of_target(pair.to).middle() + pair.value;
      const auto add = [worth](Bounds& to, double share) {
        if (share > 0) to.lower += share * worth, to.upper = to.lower;
      };
      add(first.worths[r], second.shares[c]);
      add(second.worths[c], first.shares[r]);
    }
  return {first, second};
}

// Each situation of a seat once.
std::vector<Situation> BestPlay::met_at(size_t node) const {
  if (at_once_[node]) return situations_at_once(node);
  return {situation(node)};
}

std::vector<Situation> BestPlay::situations(size_t most) const {
  std::vector<uint32_t> nodes;
  for (size_t node = 0; node < graph_.count(); ++node)
    if (graph_.is_decision(node) && !second_[node] && reach_[node] > 0) nodes.push_back(static_cast<uint32_t>(node));
  const auto before = [this](uint32_t a, uint32_t b) { return reach_[a] != reach_[b] ? reach_[a] > reach_[b] : a < b; };
  most = std::min(most, nodes.size());
  std::partial_sort(nodes.begin(), nodes.begin() + static_cast<std::ptrdiff_t>(most), nodes.end(), before);
  std::vector<Situation> all;
  for (size_t k = 0; k < most && all.size() < most; ++k)
    for (Situation& here : met_at(nodes[k])) all.push_back(std::move(here));
  return all;
}

void BestPlay::each_situation(const std::function<void(const Situation&)>& visit) const {
  for (size_t node = 0; node < graph_.count(); ++node) {
    if (!graph_.is_decision(node) || second_[node]) continue;
    for (Situation& here : met_at(node)) {
      if (here.shares.empty()) {
        const int32_t only = graph_.cut_to(node);
        const size_t best = only >= 0 ? static_cast<size_t>(only) : chosen(node);
        if (only >= 0) {  // of the others it is not known what they are worth
          const Bounds worth = here.worths.front();
          here.worths.assign(best + 1, {kNone, kNone});
          here.worths[best] = worth;
        }
        here.shares.assign(here.worths.size(), 0);
        here.shares[best] = 1;
      }
      visit(here);
    }
  }
}

std::vector<SiteUse> BestPlay::uses() const {
  std::vector<SiteUse> all(graph_.job().signs.size());
  for (size_t node = 0; node < graph_.count(); ++node) {
    if (!graph_.is_decision(node) || second_[node] || !(reach_[node] > 0)) continue;
    if (graph_.cut_to(node) >= 0) {
      SiteUse& use = all[static_cast<size_t>(graph_.site(node))];
      use.met += reach_[node];
      use.matters += reach_[node];
      use.to_next = use.to_worst = kNone;  // the others were not looked at
      continue;
    }
    for (const Situation& here : met_at(node))
      add_use(here.reach, here.worths, graph_.sign(here.node), kEqual * scale_,
              all[static_cast<size_t>(graph_.site(here.node))]);
  }
  return all;
}

}  // namespace basanos
