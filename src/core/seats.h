// Seats that are alike: what comes after a state is, with every seat one further, what comes after the state with
// every seat one further. Such states need be gone into only once. That the rules treat all seats alike is told with
// the program; where in it that can be used is found out here.
#pragma once
#include <vector>

#include "live.h"
#include "machine.h"

namespace basanos {

class Seats {
 public:
  // `written` is the program before optimised(), `program` after.
  Seats(const Program& written, const Program& program);

  size_t count() const { return count_; }  // 1 where they are not alike
  bool alike_at(int32_t pc) const { return count_ > 1 && alike_[static_cast<size_t>(pc)]; }
  void turn(Frame& frame) const;  // every seat one further

  // An outcome with every seat so many further.
  int32_t turned(int32_t outcome, size_t times) const;

 private:
  const AlikeSeats& seats_;
  const std::vector<List>& lists_;
  const size_t count_;
  std::vector<bool> alike_;  // at each draw
};

}  // namespace basanos
