#include "replay.h"

#include "branch.h"

namespace basanos {
namespace {

using Next = TransitionCache::Next;
using State = TransitionCache::State;
using Edge = TransitionCache::Edge;

// The edge that a draw takes, with the random numbers of the interpreter.
inline uint32_t drawn(const State& state, Ahead& ahead) {
  if (BSN_LIKELY(state.next == Next::face)) return ahead.below(state.size);
  switch (state.next) {
    case Next::weighted: return alias_from(state.slots, state.size, ahead.next());
    case Next::coin: return unit_from(ahead.next()) < state.chance;
    case Next::card:
      return static_cast<uint32_t>(
          card_at(state.cards, static_cast<int32_t>(state.size), static_cast<int32_t>(ahead.below(state.total))));
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

Replay::Replay(const Program& program, TransitionCache& cache, Frame& frame, const std::vector<uint64_t>& keys,
               Tally& tally)
    : program_(program),
      cache_(cache),
      frame_(frame),
      keys_(keys),
      ahead_(keys.size() + 1),
      recorder_(program, frame, tally),
      several_(has_rounds(program)),
      start_(find_edge(0, 0)) {}

Replay::~Replay() {
  for (uint32_t here = 0; here < ends_.size(); ++here) {
    if (ends_[here] == 0) continue;
    cache_.restore_recorded(cache_.states()[here], frame_);
    recorder_.add(ends_[here]);
  }
}

bool Replay::play(uint64_t from, uint64_t to) {
  unit_ = from;
  while (unit_ <= to)
    if (!replay_known(to)) return false;
  return true;
}

// Unit after unit, as long as all goes known edges; one that does not is played to its end.
bool Replay::replay_known(uint64_t to) {
  const State* const states = cache_.states();
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
      if (BSN_LIKELY(state->next < Next::end)) k = drawn(*state, ahead[state->source]);
      else if (state->next == Next::interpreter || --rounds_left_ < 0) return leave(here, 0, budget);
      else {
        cache_.restore_recorded(*state, frame_);
        recorder_.add_round();
        budget = program_.step_budget;
      }
      Edge edge = state->edges[k];
      if (BSN_UNLIKELY(edge.to == 0)) edge = find_edge(here, k);
      if (BSN_UNLIKELY(edge.to == 0 || budget < edge.steps)) return leave(here, k, budget);
      budget -= edge.steps;
      here = edge.to;
      state = states + here;
    }
    if (several_) {
      cache_.restore_recorded(*state, frame_);
      recorder_.add_unit();
    } else {
      if (BSN_UNLIKELY(here >= ends_.size())) ends_.resize(2 * size_t{here});
      ++ends_[here];
    }
  }
  return true;
}

// Puts the frame behind the draw of a state, or behind the round it tells: there the next edge begins.
bool Replay::put_behind(uint32_t from, uint32_t k) {
  if (from == 0) {
    frame_.restart(program_);
    return true;
  }
  cache_.restore(cache_.states()[from], frame_);
  const Next next = cache_.states()[from].next;
  if (next == Next::interpreter) return true;
  if (next != Next::round) return take(program_, frame_, value_at(program_, frame_, k));
  ++frame_.pc;
  return true;
}

// A edge gone for the first time; none where it fails, or where there is no room to remember it.
Edge Replay::find_edge(uint32_t from, uint32_t k) {
  if (!put_behind(from, k)) return {0, 0};
  const Stop stop = run<Branching>(program_, frame_);
  const int64_t steps = program_.step_budget - frame_.budget;
  if (stop == Stop::fail || steps > UINT32_MAX) return {0, 0};
  const Edge edge{cache_.number_of(frame_, key_), static_cast<uint32_t>(steps)};
  if (from != 0) cache_.states()[from].edges[k] = edge;
  return edge;
}

// The rest of the unit in the interpreter.
bool Replay::leave(uint32_t from, uint32_t k, int64_t budget) {
  if (rounds_left_ < 0) {  // it fails where it would have told the round
    rounds_left_ = 0;
    cache_.restore(cache_.states()[from], frame_);
  } else if (!put_behind(from, k)) return false;
  for (size_t s = 0; s < keys_.size(); ++s) frame_.streams[s] = ahead_[s].stream();
  frame_.budget = budget;
  frame_.rounds_left = rounds_left_;
  Recording mode(recorder_);
  if (run(program_, frame_, mode) != Stop::end) return false;
  if (several_) recorder_.add_unit();
  else recorder_.add();
  ++unit_;
  return true;
}

}  // namespace basanos
