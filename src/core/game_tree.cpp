#include "game_tree.h"

#include <type_traits>

namespace basanos {
namespace {

template <typename T>
void append(std::vector<uint8_t>& key, const T& value) {
  static_assert(std::is_trivially_copyable_v<T>);
  const auto* const bytes = reinterpret_cast<const uint8_t*>(&value);
  key.insert(key.end(), bytes, bytes + sizeof value);
}

}  // namespace

GameTree::GameTree(const Prepared& program, const DecisionJob& job)
    : program_(program.ready), job_(job), limits_(job_),
      // Both objectives leave the same sums out.
      rewards_(program_, job_.objective, job_.opposed),
      opposed_(program_, job_.is_opposed ? job_.opposed : Objective{}, job_.objective),
      ways_(program_, job_.seats, rewards_, job_.is_opposed ? &opposed_ : nullptr, [this] { return visit(); }) {}

// Histories with equally many answers are followed together: all ways to each of them are known then.
GraphEnd GameTree::build(const GraphPoll& poll) {
  poll_ = &poll;
  const Ways::Way first = ways_.first();
  lead_to(first, {}, 1);
  while (!next_.empty() && !stopped()) {
    Level level;
    level.swap(next_);
    next_numbers_.clear();
    for (size_t k = 0; k < level.size() && !stopped(); ++k) follow(level[k].first, level[k].second);
  }
  sides_[0].fails[0] = first.fails;
  for (Side& side : sides_) spread_failures(side);
  if (ways_.unopposed()) return GraphEnd::unopposed;
  return ways_.endless() ? GraphEnd::states : limit_;
}

void GameTree::follow(const History& history, double probability) {
  const size_t seat = ways_.seat_at(history.state);
  const uint32_t number = known(seat, history);
  const Knowledge knowledge = sides_[seat].knowledge[number];
  sides_[seat].meetings.push_back({number, history.sequences[1 - seat], probability});
  ++histories_;
  for (uint32_t k = 0; k < knowledge.answers && visit(); ++k) {
    History from = history;
    from.sequences[seat] = knowledge.first + k;
    from.seen[seat] = {};
    const Ways::Way& way = kept_way(history.state, k);
    if (way.fails) sides_[seat].fails[knowledge.first + k] = true;
    else lead_to(way, from, probability);
  }
}

void GameTree::lead_to(const Ways::Way& way, const History& from, double probability) {
  if (way.reward != 0) {
    const uint64_t pair = static_cast<uint64_t>(from.sequences[0]) << 32 | from.sequences[1];
    const auto [place, fresh] = payoff_numbers_.emplace(pair, static_cast<uint32_t>(payoffs_.size()));
    if (fresh) payoffs_.push_back({from.sequences, 0});
    payoffs_[place->second].value += probability * way.reward;
  }
  std::vector<uint8_t> key;
  for (const Ways::Arrival& arrival : way.arrivals) {
    History to = from;
    to.state = arrival.state;
    for (size_t seat = 0; seat < 2; ++seat) to.seen[seat].add(arrival.seen[seat]);
    key.clear();
    append(key, to.state);
    append(key, to.sequences);
    append(key, to.seen);
    const uint32_t number = next_numbers_.find_or_add(key);
    if (number == next_.size()) next_.push_back({to, 0});
    next_[number].second += probability * arrival.probability;
  }
}

uint32_t GameTree::known(size_t seat, const History& history) {
  Side& side = sides_[seat];
  std::vector<uint8_t> key;
  append(key, history.sequences[seat]);
  append(key, history.seen[seat]);
  const uint32_t number = side.numbers.find_or_add(key);
  if (number < side.knowledge.size()) return number;
  const ProgramModel& model = ways_.stand_at_answers(history.state);
  const auto answers = static_cast<uint32_t>(model.frame.offers.count());
  const auto first = static_cast<uint32_t>(side.fails.size());
  side.knowledge.push_back({model.site(), history.sequences[seat], first, answers, history.state});
  side.fails.resize(side.fails.size() + answers);
  return number;
}

const Ways::Way& GameTree::kept_way(Ways::State state, uint32_t answer) {
  if (ways_of_.size() <= state) ways_of_.resize(ways_.count());
  std::vector<Ways::Way>& of_state = ways_of_[state];
  if (of_state.size() == answer) {
    of_state.push_back(ways_.after(state, answer));
    arrivals_ += of_state.back().arrivals.size();
  }
  return of_state[answer];
}

// An answer behind which every answer fails is none.
void GameTree::spread_failures(Side& side) {
  for (size_t k = side.knowledge.size(); k-- > 0;) {
    const Knowledge& here = side.knowledge[k];
    bool all = true;
    for (uint32_t s = here.first; s < here.first + here.answers; ++s) all = all && side.fails[s];
    if (all) side.fails[here.before] = true;
  }
}

bool GameTree::visit() {
  if (limit_ == GraphEnd::done) limit_ = limits_.reached(++visited_, bytes(), *poll_);
  return limit_ == GraphEnd::done;
}

size_t GameTree::bytes() const {
  size_t all = ways_.bytes() + payoffs_.size() * (sizeof(Payoff) + 48) + arrivals_ * sizeof(Ways::Arrival) +
               ways_.count() * 64 + next_.size() * (sizeof(History) + 8) + next_numbers_.bytes();
  for (const Side& side : sides_)
    all += side.knowledge.size() * sizeof(Knowledge) + side.meetings.size() * sizeof(Meeting) + side.numbers.bytes();
  return all;
}

}  // namespace basanos
