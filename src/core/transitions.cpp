#include "transitions.h"

#include <algorithm>

#include "branch.h"

namespace basanos {
namespace {

constexpr size_t kManyEdges = 4096;  // of one state

}  // namespace

TransitionCache::TransitionCache(const Program& program, const Room& room)
    : program_(program),
      stops_(program),
      recorded_(recorded_registers(program)),
      most_bytes_(room.bytes),
      states_(room.states + 1),
      edges_(room.edges),
      cards_(room.cards),
      told_bytes_(room.bytes),
      keys_(room.bytes) {
  require_closed(program, "sampled");
  states_.take(1)->next = Next::interpreter;
}

// States without room are left to the interpreter.
TransitionCache::State TransitionCache::described(const Frame& frame, const std::vector<uint8_t>& key) {
  const Instr& in = program_.code[static_cast<size_t>(frame.pc)];
  State state{};
  state.size = 1;
  state.key = std::copy(key.begin(), key.end(), keys_.take(key.size())) - key.size();
  if (in.op == OP_END || in.op == OP_TALLY) {
    if (told_bytes_.has_room(most_bytes(recorded_)) && edges_.has_room(1)) {
      state.next = in.op == OP_END ? Next::end : Next::round;
      uint8_t* const recorded = told_bytes_.begin() + told_bytes_.used();
      told_bytes_.take(static_cast<size_t>(pack(recorded_, frame, recorded) - recorded));
      state.recorded = recorded;
    } else state.next = Next::interpreter;
  } else describe_draw(frame, state);
  if (state.next == Next::card && cards_.has_room(state.size))
    state.cards = std::copy_n(state.cards, state.size, cards_.take(state.size)) - state.size;
  else if (state.next == Next::card) state.next = Next::interpreter;
  if (!edges_.has_room(state.size)) state.next = Next::interpreter;
  if (state.next != Next::interpreter) state.edges = edges_.take(state.size);
  return state;
}

// A draw that cannot be carried out, or has very many edges, is left to the interpreter.
void TransitionCache::describe_draw(const Frame& frame, State& state) const {
  const Instr& in = program_.code[static_cast<size_t>(frame.pc)];
  state.next = Next::interpreter;
  state.source = static_cast<uint16_t>(in.b);
  const size_t edges = branch_bound(program_, frame);
  if (edges == 0 || edges > kManyEdges) return;
  state.size = static_cast<uint32_t>(edges);
  switch (in.op) {
    case OP_DRAWW:
      state.next = Next::weighted;
      state.slots = program_.aliases[static_cast<size_t>(in.c)].slots();
      break;
    case OP_DEAL: {
      const Array& deck = program_.arrays[static_cast<size_t>(in.c)];
      state.cards = frame.ints.data() + deck.base;
      const int64_t total = sum_of(state.cards, deck.size);
      state.total = static_cast<uint32_t>(total);
      if (total > 0 && total <= INT32_MAX) state.next = Next::card;
      break;
    }
    case OP_DRAWP:
    case OP_DRAWN:
      state.chance = frame.reals[static_cast<size_t>(in.op == OP_DRAWP ? in.c : in.d)];
      if (state.chance >= 0 && state.chance <= 1) state.next = in.op == OP_DRAWP ? Next::coin : Next::trials;
      break;
    default: state.next = Next::face;
  }
}

uint32_t TransitionCache::number_of(const Frame& frame, std::vector<uint8_t>& key) {
  key.clear();
  stops_.pack(frame, key);
  if (!states_.has_room(1) || !keys_.has_room(key.size()) || index_.bytes() > most_bytes_) {
    const uint32_t known = index_.find(key.data(), key.size());
    return known == HashConsTable::kNone ? 0 : known + 1;
  }
  const uint32_t number = index_.find_or_add(key) + 1;
  if (number == states_.used()) *states_.take(1) = described(frame, key);
  return number;
}

}  // namespace basanos
