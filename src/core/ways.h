// What an answer of an open decision leads to: every draw behind it, up to the next decisions, with what the seats that
// decide see on the way.
#pragma once
#include <array>
#include <functional>
#include <vector>

#include "hash_cons.h"
#include "model.h"
#include "random.h"
#include "rewards.h"

namespace basanos {

// What a seat has seen, in order, as a hash; of two stretches one after the other it is the same as of the whole.
struct SeenHash {
  uint64_t hash = 0, power = 1;
  void add(uint64_t value) { add(SeenHash{mix64(value + BASANOS_GAMMA), kBase}); }
  void add(const SeenHash& later) {
    hash = hash * later.power + later.hash;
    power *= later.power;
  }
  bool operator==(const SeenHash& other) const { return hash == other.hash && power == other.power; }
  bool operator<(const SeenHash& other) const { return hash != other.hash ? hash < other.hash : power < other.power; }

 private:
  static constexpr uint64_t kBase = 0x9E6C63D0876A9A4Bull;
};

class Ways {
 public:
  using State = uint32_t;

  // A decision that play arrives at, with what each of the seats that decide has seen on the way.
  struct Arrival {
    std::array<SeenHash, 2> seen;
    State state;
    double probability;
  };
  struct Way {
    double reward = 0;  // on average
    bool fails = false;
    std::vector<Arrival> arrivals;
  };

  // `seats`: those that decide, one or two. `opposed`: what the other one gets, or nothing. `visit` is called for each
  // answer and draw; false ends the walk.
  Ways(const Program& program, const std::vector<int32_t>& seats, const Rewards& rewards, const Rewards* opposed,
       std::function<bool()> visit);

  Way first();
  Way after(State state, size_t answer);
  size_t answers(State state);
  // Puts the model at the answers of a decision.
  ProgramModel& stand_at_answers(State state);
  size_t seat_at(State state);  // the number of the seat that decides there

  size_t count() const { return states_.count(); }
  size_t bytes() const { return states_.bytes() + ended_.bytes() + ended_rewards_.size() * sizeof(double); }
  // The walk has ended before its time: `visit` said so, or one of the following.
  bool stopped() const { return stopped_ || unopposed_ || endless_; }
  bool unopposed() const { return unopposed_; }  // what one gets was not what the other loses
  bool endless() const { return endless_; }
  const Failure& failure() const { return failure_; }

 private:
  using Watched = std::array<SeenHash, 2>;

  Way followed();
  double explore(double probability, Watched seen, Way& way);
  double follow_draw(double probability, const Watched& seen, Way& way);
  double brought(double reward, double other);
  double failed(Way& way);
  void add_shown(Watched& seen) const;
  void add_offers(Watched& seen) const;
  size_t number_of_seat(int32_t site) const;

  const Program& program_;
  const std::vector<int32_t> seats_;
  const Rewards& rewards_;
  const Rewards* const opposed_;
  const std::function<bool()> visit_;
  ProgramModel model_;
  HashConsTable states_;
  HashConsTable ended_;  // draws behind which nobody decides any more
  std::vector<double> ended_rewards_;
  int depth_ = 0;
  bool stopped_ = false, unopposed_ = false, endless_ = false;
  Failure failure_;
};

}  // namespace basanos
