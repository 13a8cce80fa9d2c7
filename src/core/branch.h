// The branches of a chance operation at which a frame has stopped, and the answers of an open decision.
#pragma once
#include "interpreter.h"

namespace basanos {

struct Branch {
  int32_t value;
  long double probability;  // they add up to 1 to the last bit of a double; of each lane it is 1
};

// Fills `out` with the values of positive probability; false when the operation cannot be carried
// out, in which case the frame says why.
bool branches_of(const Program& program, Frame& frame, std::vector<Branch>& out);

// The most branches that the operation has, without listing them.
size_t branch_bound(const Program& program, const Frame& frame);

// The k-th thing that a draw can show, counted from 0: the k-th face, kind of card, item, or k successes.
int32_t value_at(const Program& program, const Frame& frame, uint32_t k);

// Could the operation come up with `value`?
bool can_come_up(const Program& program, Frame& frame, int32_t value);

// Goes on after the chance operation as if it had come up with `value`; false when it fails.
bool take(const Program& program, Frame& frame, int32_t value);

// Goes on from an open decision to its answers, or to a pass.
void open_decision(Frame& frame);

// Goes on after a decision with the k-th of its answers; false when it fails.
bool decide(const Program& program, Frame& frame, size_t k);

// The result of the operation in the frame's own streams, as in a sampled unit; false when it
// cannot be carried out.
bool draw_from_stream(const Program& program, Frame& frame, int32_t& value);

}  // namespace basanos
