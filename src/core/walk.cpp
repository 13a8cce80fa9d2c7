#include "walk.h"

#include "branch.h"

namespace basanos {
namespace {

using Next = Trail::Next;
using State = Trail::State;
using Way = Trail::Way;

// One unit to its end.
class ToTheEnd : public Sampling {
 public:
  explicit ToTheEnd(Recorder& recorder) : recorder_(recorder) {}
  void round(Frame&) { recorder_.add_round(); }

 private:
  Recorder& recorder_;
};

// Which of the ways a draw takes: with the numbers that the machine would use.
inline uint32_t drawn(const State& state, Ahead& ahead) {
  if (LIKELY(state.next == Next::face)) return ahead.below(state.size);
  switch (state.next) {
    case Next::weighted: return alias_from(state.slots, state.size, ahead.next());
    case Next::coin: return unit_from(ahead.next()) < state.chance;
    case Next::card: return static_cast<uint32_t>(card_at(state.cards, static_cast<int32_t>(state.size), static_cast<int32_t>(ahead.below(state.total))));
    case Next::trials: {
      uint64_t stream = ahead.stream();
      const int32_t successes = draw_successes(static_cast<int32_t>(state.size) - 1, state.chance, &stream);
      ahead.go_on_from(stream);
      return static_cast<uint32_t>(successes);
    }
    default: __builtin_unreachable();
  }
}

}  // namespace

Walk::Walk(const Program& program, Trail& trail, Frame& frame, const std::vector<uint64_t>& keys, Tally& tally)
    : program_(program), trail_(trail), frame_(frame), keys_(keys), ahead_(keys.size() + 1), recorder_(program, frame, tally), several_(has_rounds(program)), start_(find_way(0, 0)) {}

Walk::~Walk() {
  for (uint32_t here = 0; here < ends_.size(); ++here) {
    if (ends_[here] == 0) continue;
    trail_.tell(trail_.states()[here], frame_);
    recorder_.add(ends_[here]);
  }
}

bool Walk::play(uint64_t from, uint64_t to) {
  unit_ = from;
  while (unit_ <= to)
    if (!play_known(to)) return false;
  return true;
}

// Unit after unit, as long as all goes known ways; one that does not is played to its end.
bool Walk::play_known(uint64_t to) {
  const State* const states = trail_.states();
  const uint64_t* const keys = keys_.data();
  const size_t sources = keys_.size();
  Ahead* const ahead = ahead_.data();
  for (; unit_ <= to; ++unit_) {
    const uint64_t unit = unit_;
    for (size_t s = 0; s < sources; ++s) ahead[s].go_on_from(stream_start(keys[s], unit));
    rounds_left_ = program_.step_budget;
    uint32_t here = start_.to;
    int64_t budget = program_.step_budget - start_.steps;
    const State* state = states + here;
    while (state->next != Next::end) {
      uint32_t k = 0;
      if (LIKELY(state->next < Next::end)) k = drawn(*state, ahead[state->source]);
      else if (state->next == Next::machine || --rounds_left_ < 0) return leave(here, 0, budget);
      else {
        trail_.tell(*state, frame_);
        recorder_.add_round();
        budget = program_.step_budget;
      }
      Way way = state->ways[k];
      if (UNLIKELY(way.to == 0)) way = find_way(here, k);
      if (UNLIKELY(way.to == 0 || budget < way.steps)) return leave(here, k, budget);
      budget -= way.steps;
      here = way.to;
      state = states + here;
    }
    if (several_) {
      trail_.tell(*state, frame_);
      recorder_.add_unit();
    } else {
      if (UNLIKELY(here >= ends_.size())) ends_.resize(2 * size_t{here});
      ++ends_[here];
    }
  }
  return true;
}

// Puts the frame behind the draw of a state, or behind the round it tells: there the next way begins.
bool Walk::put_behind(uint32_t from, uint32_t k) {
  if (from == 0) {
    frame_.restart(program_);
    return true;
  }
  trail_.restore(trail_.states()[from], frame_);
  const Next next = trail_.states()[from].next;
  if (next == Next::machine) return true;
  if (next != Next::round) return take(program_, frame_, value_at(program_, frame_, k));
  ++frame_.pc;
  return true;
}

// A way gone for the first time; none where it fails, or where there is no room to remember it.
Way Walk::find_way(uint32_t from, uint32_t k) {
  if (!put_behind(from, k)) return {0, 0};
  const Stop stop = run<Branching>(program_, frame_);
  const int64_t steps = program_.step_budget - frame_.budget;
  if (stop == Stop::fail || steps > UINT32_MAX) return {0, 0};
  const Way way{trail_.number_of(frame_, key_), static_cast<uint32_t>(steps)};
  if (from != 0) trail_.states()[from].ways[k] = way;
  return way;
}

// The rest of the unit in the machine.
bool Walk::leave(uint32_t from, uint32_t k, int64_t budget) {
  if (rounds_left_ < 0) {  // it fails where it would have told the round
    rounds_left_ = 0;
    trail_.restore(trail_.states()[from], frame_);
  } else if (!put_behind(from, k)) return false;
  for (size_t s = 0; s < keys_.size(); ++s) frame_.streams[s] = ahead_[s].stream();
  frame_.budget = budget;
  frame_.rounds_left = rounds_left_;
  ToTheEnd mode(recorder_);
  if (run(program_, frame_, mode) != Stop::end) return false;
  if (several_) recorder_.add_unit();
  else recorder_.add();
  ++unit_;
  return true;
}

}  // namespace basanos
