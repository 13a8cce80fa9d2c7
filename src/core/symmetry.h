// Seat symmetry: states that are rotations of each other over the seats have rotated successors. One of them is
// expanded for all. That the rules treat all seats alike is told with
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

  size_t count() const { return count_; }  // 1 where there is no symmetry
  bool is_symmetric_at(int32_t pc) const { return count_ > 1 && symmetric_[static_cast<size_t>(pc)]; }
  void rotate(Frame& frame) const;  // every seat one further

  // An outcome with every seat n further.
  int32_t rotated(int32_t outcome, size_t times) const;

 private:
  const SymmetryTable& symmetry_;
  const std::vector<List>& lists_;
  const size_t count_;
  std::vector<bool> symmetric_;  // at each draw
};

}  // namespace basanos
