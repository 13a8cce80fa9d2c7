// Seats that are alike: what comes after a state is, with every seat one further, what comes after the state with
// every seat one further. Such states need be gone into only once. That the rules treat all seats alike is told with
// the program; where in it that can be used is found out here.
#pragma once
#include <vector>

#include "liveness.h"
#include "interpreter.h"

namespace basanos {

class SeatSymmetry {
 public:
  // `written` is the program before optimised(), `program` after.
  SeatSymmetry(const Program& written, const Program& program);

  size_t count() const { return count_; }  // 1 where they are not alike
  bool is_symmetric_at(int32_t pc) const { return count_ > 1 && symmetric_[static_cast<size_t>(pc)]; }
  void rotate(Frame& frame) const;  // every seat one further

  // An outcome with every seat so many further.
  int32_t rotated(int32_t outcome, size_t times) const;

 private:
  const SymmetryTable& symmetry_;
  const std::vector<List>& lists_;
  const size_t count_;
  std::vector<bool> symmetric_;  // at each draw
};

}  // namespace basanos
