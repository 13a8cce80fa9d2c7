// Registers as bytes: equal registers give equal bytes, and the bytes give the registers back.
#pragma once
#include <cstdint>
#include <vector>

#include "liveness.h"

namespace basanos {

struct Frame;

size_t most_bytes(const LiveRegisters& regs);
uint8_t* pack(const LiveRegisters& regs, const Frame& frame, uint8_t* out);
const uint8_t* unpack(const LiveRegisters& regs, const uint8_t* from, Frame& frame);

// The values that are read at an end or at a recorded round.
LiveRegisters recorded_registers(const Program& program);

// What is alive where a unit can stop: at draws, at told rounds, at ends. That much of a state is enough to go on from.
class Stops {
 public:
  // `left_out`: registers that do not belong to the state; it begins with 0 in them.
  explicit Stops(const Program& program, std::vector<int32_t> left_out = {});
  void pack(const Frame& frame, std::vector<uint8_t>& out) const;  // behind what is there
  const uint8_t* unpack(const uint8_t* from, Frame& frame) const;  // gives what follows

 private:
  const Program& program_;
  const std::vector<int32_t> left_out_;
  std::vector<LiveRegisters> alive_;  // of each operation
};

}  // namespace basanos
