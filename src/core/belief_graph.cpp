#include "belief_graph.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "random.h"

namespace basanos {
namespace {

constexpr int kMostDraws = 3000;         // and passes in a row, without a decision: play may have no end
constexpr double kWhole = 1099511627776.0;  // 2^40: weights are rounded to it, so that equal beliefs are one

class Deeper {
 public:
  explicit Deeper(int& depth) : depth_(++depth) {}
  ~Deeper() { --depth_; }

 private:
  int& depth_;
};

uint64_t mixed(uint64_t seen, uint64_t value) { return mix64(seen ^ mix64(value + BASANOS_GAMMA)); }

uint64_t bits_of(double value) {
  uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  return bits;
}

}  // namespace

BeliefGraph::BeliefGraph(const Prepared& program, DecisionJob job)
    : PlayGraph(program.ready, std::move(job)), model_(program_, nullptr, rewards_of_.registers()) {}

GraphEnd BeliefGraph::build(const GraphPoll& poll) {
  poll_ = &poll;
  model_.start();
  model_.frame.shown.clear();
  Way first = followed();
  start_reward_ = first.reward;
  const auto roots = beliefs_of(first.arrivals);
  while (found_.size() < beliefs_.count() && limit_ == GraphEnd::done) {
    const std::vector<Weighted> here = belief(static_cast<uint32_t>(found_.size()));
    if (met_.size() < states_.count()) met_.resize(states_.count());
    for (const Weighted& each : here) ++met_[each.state];
    std::vector<Answer> all;
    const size_t count = answers(here[0].state);
    for (size_t k = 0; k < count && limit_ == GraphEnd::done; ++k) all.push_back(joined(here, k));
    if (limit_ == GraphEnd::done) found_.push_back(std::move(all));
  }
  write_nodes();
  first_target_ = first.fails ? kFailed : found_.empty() && !roots.empty() ? kOpen : static_cast<uint32_t>(count());
  write_draw(roots, 0);  // what comes first
  return limit_;
}

// States with an answer and draws count alike.
void BeliefGraph::look_at_limits() {
  if (limit_ == GraphEnd::done) limit_ = limit_reached(++visited_, bytes(), *poll_);
}

size_t BeliefGraph::bytes() const {
  return states_.bytes() + beliefs_.bytes() + ended_.bytes() + arrivals_ * sizeof(Arrival) +
         states_.count() * 64 + found_.size() * 96;
}

// The number of the answers there: the seat sees it, so it is that of all states of a belief.
size_t BeliefGraph::answers(State state) {
  model_.unpack(states_.key(state));
  return model_.offer() == Stop::decision ? model_.frame.offers.count() : 1;
}

BeliefGraph::Way BeliefGraph::way(State state, size_t answer) {
  look_at_limits();
  model_.unpack(states_.key(state));
  const bool decided = model_.offer() == Stop::decision;
  model_.frame.shown.clear();  // what described the situation
  if (!decided || decide(program_, model_.frame, answer)) return followed();
  Way fails;
  fails.fails = true;
  return fails;
}

const BeliefGraph::Way& BeliefGraph::kept_way(State state, size_t answer) {
  if (ways_.size() <= state) ways_.resize(states_.count());
  if (ways_[state].size() <= answer) ways_[state].resize(answer + 1);
  if (!ways_[state][answer].known) {
    Way found = way(state, answer);
    found.known = true;
    arrivals_ += found.arrivals.size();
    ways_[state][answer] = std::move(found);
  }
  return ways_[state][answer];
}

// From where the model stands on.
BeliefGraph::Way BeliefGraph::followed() {
  Way way;
  way.reward = explore(1, 0, way);
  return way;
}

// Follows every draw up to the seat's next decision, and gives what it brings on average. Where the seat decides no
// more, that is kept: it is the same whatever the seat has seen.
double BeliefGraph::explore(double probability, uint64_t seen, Way& way) {
  const Deeper deeper(depth_);
  if (depth_ > kMostDraws && limit_ == GraphEnd::done) limit_ = GraphEnd::states;
  if (limit_ != GraphEnd::done) return 0;
  double reward = 0;
  Stop stop = model_.run();
  for (; stop == Stop::round; stop = model_.run()) {
    reward += rewards_of_.at_end(model_.frame, stop);
    model_.go_on();
  }
  if (stop == Stop::end) return reward + rewards_of_.at_end(model_.frame, stop);
  if (stop == Stop::fail || stop == Stop::decision) {
    failure_ = failure_of(program_, model_.frame);
    way.fails = true;
    return reward;
  }
  reward += rewards_of_.of_growth(model_.frame);
  seen = with_shown(seen);
  std::vector<uint8_t> key;
  model_.pack(key);
  if (stop == Stop::open) {
    model_.unpack(key.data());
    const Stop offered = model_.offer();
    if (offered == Stop::decision) {
      way.arrivals.push_back({with_offers(seen), states_.find_or_add(key), probability});
      return reward;
    }
    // No answer is a pass, which goes on by itself.
    if (offered != Stop::fail) return reward + explore(probability, seen, way);
    failure_ = failure_of(program_, model_.frame);
    way.fails = true;
    return reward;
  }
  const uint32_t known = ended_.find(key.data(), key.size());
  if (known != HashConsTable::kNone) return reward + ended_rewards_[known];
  look_at_limits();
  std::vector<Branch> branches;
  if (!model_.branches(branches)) {
    failure_ = failure_of(program_, model_.frame);
    way.fails = true;
    return reward;
  }
  const size_t before = way.arrivals.size();
  double mean = 0;
  for (size_t k = 0; k < branches.size() && !way.fails; ++k) {
    model_.unpack(key.data());
    model_.frame.shown.clear();
    const auto part = static_cast<double>(branches[k].probability);
    if (model_.take(branches[k].value)) mean += part * explore(probability * part, seen, way);
    else way.fails = true;
  }
  if (way.arrivals.size() == before && !way.fails && limit_ == GraphEnd::done) {
    ended_.add(key.data(), key.size());
    ended_rewards_.push_back(mean);
  }
  return reward + mean;
}

uint64_t BeliefGraph::with_shown(uint64_t seen) const {
  for (const Shown& shown : model_.frame.shown) {
    seen = mixed(mixed(seen, static_cast<uint64_t>(shown.which)), shown.values.size());
    for (double value : shown.values) seen = mixed(seen, bits_of(value));
  }
  return seen;
}

// At the answers of a decision: which decision it is, and what it offers, is seen.
uint64_t BeliefGraph::with_offers(uint64_t seen) const {
  const Frame& frame = model_.frame;
  const Site& site = program_.sites[static_cast<size_t>(model_.site())];
  seen = mixed(seen, static_cast<uint64_t>(site.decision));
  for (size_t k = 0; k < frame.offers.count(); ++k) {
    const int32_t* const offer = frame.offers[k];
    const int32_t cells = site.several ? 1 + *offer : 1;
    for (int32_t c = 0; c < cells; ++c) seen = mixed(seen, static_cast<uint64_t>(offer[c]));
  }
  return seen;
}

// An answer of the seat in a situation, over all states that it may be in.
BeliefGraph::Answer BeliefGraph::joined(const std::vector<Weighted>& belief, size_t answer) {
  Answer all{0, false, {}};
  std::vector<Arrival> arrivals;
  const auto add = [&](const Way& part, double probability) {
    all.reward += probability * part.reward;
    all.fails = all.fails || part.fails;
    for (const Arrival& a : part.arrivals) arrivals.push_back({a.seen, a.state, probability * a.probability});
  };
  for (const Weighted& here : belief) {
    const double probability = static_cast<double>(here.weight) / kWhole;
    if (met_[here.state] > 1) add(kept_way(here.state, answer), probability);
    else add(way(here.state, answer), probability);
  }
  if (!all.fails) all.beliefs = beliefs_of(arrivals);
  return all;
}

// What was seen tells arrivals apart: each is a situation of its own.
std::vector<std::pair<uint32_t, double>> BeliefGraph::beliefs_of(std::vector<Arrival>& arrivals) {
  std::sort(arrivals.begin(), arrivals.end(), [](const Arrival& a, const Arrival& b) {
    return a.seen != b.seen ? a.seen < b.seen : a.state < b.state;
  });
  std::vector<std::pair<uint32_t, double>> beliefs;
  for (size_t from = 0, to = 0; from < arrivals.size(); from = to) {
    double all = 0;
    for (; to < arrivals.size() && arrivals[to].seen == arrivals[from].seen; ++to) all += arrivals[to].probability;
    beliefs.push_back({number_of(arrivals.data() + from, arrivals.data() + to, all), all});
  }
  return beliefs;
}

// The number of a distribution over states, which come in order.
uint32_t BeliefGraph::number_of(const Arrival* from, const Arrival* to, double all) {
  std::vector<uint8_t> key;
  while (from != to) {
    Weighted here{from->state, 0};
    double probability = 0;
    for (; from != to && from->state == here.state; ++from) probability += from->probability;
    here.weight = static_cast<uint64_t>(std::llround(probability / all * kWhole));
    if (here.weight == 0) continue;
    const auto* const bytes = reinterpret_cast<const uint8_t*>(&here.state);
    key.insert(key.end(), bytes, bytes + sizeof here.state);
    const auto* const weight = reinterpret_cast<const uint8_t*>(&here.weight);
    key.insert(key.end(), weight, weight + sizeof here.weight);
  }
  const uint32_t number = beliefs_.find_or_add(key);
  if (sizes_.size() <= number) sizes_.push_back(static_cast<uint32_t>(key.size() / kBytesOfState));
  return number;
}

std::vector<BeliefGraph::Weighted> BeliefGraph::belief(uint32_t number) const {
  std::vector<Weighted> all;
  const uint8_t* at = beliefs_.key(number);
  for (uint32_t k = 0; k < sizes_[number]; ++k, at += kBytesOfState) {
    Weighted here;
    std::memcpy(&here.state, at, sizeof here.state);
    std::memcpy(&here.weight, at + sizeof here.state, sizeof here.weight);
    all.push_back(here);
  }
  return all;
}

// A situation is a decision; each of its answers leads to a draw of what is seen next.
void BeliefGraph::write_nodes() {
  node_of_.assign(beliefs_.count(), kOpen);
  size_t node = 0;
  for (size_t k = 0; k < found_.size(); ++k) {
    node_of_[k] = node;
    node += 1 + found_[k].size();
  }
  for (size_t k = 0; k < found_.size(); ++k) {
    belief_of_[count()] = static_cast<uint32_t>(k);
    for (size_t answer = 0; answer < found_[k].size(); ++answer)
      add_edge(found_[k][answer].fails ? kFailed : static_cast<uint32_t>(count() + 1 + answer), 0);
    model_.unpack(states_.key(belief(static_cast<uint32_t>(k))[0].state));
    close_node(model_.site(), 0, false);
    for (const Answer& answer : found_[k]) write_draw(answer.beliefs, answer.reward);
  }
}

void BeliefGraph::write_draw(const std::vector<std::pair<uint32_t, double>>& beliefs, double reward) {
  double ends = 1;
  for (const auto& [number, probability] : beliefs) {
    add_edge(static_cast<uint32_t>(node_of_[number]), probability);
    ends -= probability;
  }
  if (ends > 1e-12) add_edge(kEnd, ends);
  close_node(-1, reward, reward != 0 && !beliefs.empty());
}

ProgramModel& BeliefGraph::stand_at_answers(size_t node) {
  model_.unpack(states_.key(belief(belief_of_.at(node))[0].state));
  model_.offer();
  return model_;
}

}  // namespace basanos
