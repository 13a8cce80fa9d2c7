#include "ways.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace basanos {
namespace {

constexpr int kMostDraws = 3000;  // and passes in a row, without a decision: play may have no end

class Deeper {
 public:
  explicit Deeper(int& depth) : depth_(++depth) {}
  ~Deeper() { --depth_; }

 private:
  int& depth_;
};

uint64_t bits_of(double value) {
  uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  return bits;
}

}  // namespace

Ways::Ways(const Program& program, const std::vector<int32_t>& seats, const Rewards& rewards, const Rewards* opposed,
           std::function<bool()> visit)
    : program_(program), seats_(seats), rewards_(rewards), opposed_(opposed), visit_(std::move(visit)),
      model_(program, nullptr, rewards.registers()) {}

Ways::Way Ways::first() {
  model_.start();
  model_.frame.shown.clear();
  return followed();
}

size_t Ways::answers(State state) {
  stand_at_answers(state);
  return model_.frame.offers.count();
}

ProgramModel& Ways::stand_at_answers(State state) {
  model_.unpack(states_.key(state));
  model_.offer();
  return model_;
}

size_t Ways::seat_at(State state) {
  model_.unpack(states_.key(state));
  return number_of_seat(model_.site());
}

size_t Ways::number_of_seat(int32_t site) const {
  const int32_t seat = program_.sites[static_cast<size_t>(site)].seat;
  return seats_.size() > 1 && seat == seats_[1] ? 1 : 0;
}

Ways::Way Ways::after(State state, size_t answer) {
  stopped_ = stopped_ || !visit_();
  stand_at_answers(state);
  model_.frame.shown.clear();  // what described the situation
  if (decide(program_, model_.frame, answer)) return followed();
  Way fails;
  fails.fails = true;
  return fails;
}

// From where the model stands on.
Ways::Way Ways::followed() {
  Way way;
  way.reward = explore(1, {}, way);
  return way;
}

// Follows every draw up to the next decision, and gives what it brings on average.
double Ways::explore(double probability, Watched seen, Way& way) {
  const Deeper deeper(depth_);
  endless_ = endless_ || depth_ > kMostDraws;
  if (stopped()) return 0;
  double reward = 0;
  Stop stop = model_.run();
  for (; stop == Stop::round; stop = model_.run()) {
    reward += brought(rewards_.at_end(model_.frame, stop), opposed_ ? opposed_->at_end(model_.frame, stop) : 0);
    model_.go_on();
  }
  if (stop == Stop::end)
    return reward + brought(rewards_.at_end(model_.frame, stop), opposed_ ? opposed_->at_end(model_.frame, stop) : 0);
  if (stop == Stop::fail || stop == Stop::decision) return failed(way);
  reward += brought(rewards_.of_growth(model_.frame), opposed_ ? opposed_->of_growth(model_.frame) : 0);
  add_shown(seen);
  if (stop != Stop::open) return reward + follow_draw(probability, seen, way);
  std::vector<uint8_t> key;
  model_.pack(key);
  model_.unpack(key.data());
  const Stop offered = model_.offer();
  if (offered == Stop::fail) return failed(way);
  // No answer is a pass, which goes on by itself.
  if (offered != Stop::decision) return reward + explore(probability, seen, way);
  add_offers(seen);
  way.arrivals.push_back({seen, states_.find_or_add(key), probability});
  return reward;
}

// Where nobody decides any more, what it brings is kept: it is the same whatever was seen.
double Ways::follow_draw(double probability, const Watched& seen, Way& way) {
  std::vector<uint8_t> key;
  model_.pack(key);
  const uint32_t known = ended_.find(key.data(), key.size());
  if (known != HashConsTable::kNone) return ended_rewards_[known];
  stopped_ = stopped_ || !visit_();
  std::vector<Branch> branches;
  if (!model_.branches(branches)) return failed(way);
  const size_t before = way.arrivals.size();
  double mean = 0;
  for (size_t k = 0; k < branches.size() && !way.fails; ++k) {
    model_.unpack(key.data());
    model_.frame.shown.clear();
    const auto part = static_cast<double>(branches[k].probability);
    if (!model_.take(branches[k].value)) return failed(way);
    mean += part * explore(probability * part, seen, way);
  }
  if (way.arrivals.size() == before && !way.fails && !stopped()) {
    ended_.add(key.data(), key.size());
    ended_rewards_.push_back(mean);
  }
  return mean;
}

double Ways::brought(double reward, double other) {
  if (opposed_ && !(std::abs(reward + other) <= 1e-9 * std::max(1.0, std::abs(reward)))) unopposed_ = true;
  return reward;
}

double Ways::failed(Way& way) {
  failure_ = failure_of(program_, model_.frame);
  way.fails = true;
  return 0;
}

// Each seat has numbers of its own for what it is shown. Those before them describe a situation.
void Ways::add_shown(Watched& seen) const {
  for (const Shown& shown : model_.frame.shown) {
    if (shown.which < kFirstEvent) continue;
    SeenHash& of_seat = seen[shown.which >= 2 * kFirstEvent ? 1 : 0];
    of_seat.add(static_cast<uint64_t>(shown.which));
    of_seat.add(shown.values.size());
    for (double value : shown.values) of_seat.add(bits_of(value));
  }
}

// At the answers of a decision: which decision it is, and what it offers, is seen by the seat that is asked.
void Ways::add_offers(Watched& seen) const {
  const Frame& frame = model_.frame;
  const Site& site = program_.sites[static_cast<size_t>(model_.site())];
  SeenHash& of_seat = seen[number_of_seat(model_.site())];
  of_seat.add(static_cast<uint64_t>(site.decision));
  for (size_t k = 0; k < frame.offers.count(); ++k) {
    const int32_t* const offer = frame.offers[k];
    const int32_t cells = site.several ? 1 + *offer : 1;
    for (int32_t c = 0; c < cells; ++c) of_seat.add(static_cast<uint64_t>(offer[c]));
  }
}

}  // namespace basanos
