#include "pack.h"

#include <algorithm>
#include <cstring>
#include <utility>

#include "interpreter.h"
#include "rewrite.h"

namespace basanos {
namespace {

// Whole numbers that are small, as most are, take one byte.
constexpr uint8_t kLong = 255;
constexpr size_t kLongest = 1 + sizeof(int32_t);

void put_whole(uint8_t*& out, int32_t value) {
  if (static_cast<uint32_t>(value) < kLong) {
    *out++ = static_cast<uint8_t>(value);
    return;
  }
  *out++ = kLong;
  std::memcpy(out, &value, sizeof value);
  out += sizeof value;
}

int32_t take_whole(const uint8_t*& from) {
  if (*from != kLong) return *from++;
  int32_t value;
  std::memcpy(&value, from + 1, sizeof value);
  from += 1 + sizeof value;
  return value;
}

}  // namespace

size_t most_bytes(const LiveRegisters& regs) {
  size_t bytes = regs.ints.size() * kLongest + regs.reals.size() * sizeof(double);
  for (const List& list : regs.lists) bytes += (index(list.room) + 1) * kLongest;
  return bytes;
}

uint8_t* pack(const LiveRegisters& regs, const Frame& frame, uint8_t* out) {
  for (int32_t reg : regs.ints) put_whole(out, frame.ints[index(reg)]);
  for (int32_t reg : regs.reals) {
    const double value = frame.reals[index(reg)] + 0.0;  // -0 and 0 are one value
    std::memcpy(out, &value, sizeof value);
    out += sizeof value;
  }
  for (const List& list : regs.lists) {
    const int32_t* const items = &frame.ints[index(list.base)];
    for (int32_t k = 0; k <= items[0]; ++k) put_whole(out, items[k]);
  }
  return out;
}

const uint8_t* unpack(const LiveRegisters& regs, const uint8_t* from, Frame& frame) {
  for (int32_t reg : regs.ints) frame.ints[index(reg)] = take_whole(from);
  for (int32_t reg : regs.reals) {
    std::memcpy(&frame.reals[index(reg)], from, sizeof(double));
    from += sizeof(double);
  }
  for (const List& list : regs.lists) {
    int32_t* const items = &frame.ints[index(list.base)];
    items[0] = take_whole(from);
    for (int32_t k = 1; k <= items[0]; ++k) items[k] = take_whole(from);
  }
  return from;
}

LiveRegisters recorded_registers(const Program& program) {
  LiveRegisters regs;
  regs.ints.push_back(program.outcome_register);
  if (program.lanes > 0) regs.ints.push_back(program.lane_register);
  for (const std::vector<Quantity>* list : {&program.quantities, &program.unit_quantities})
    for (const Quantity& q : *list) (q.real ? regs.reals : regs.ints).push_back(q.reg);
  return regs;
}

Stops::Stops(const Program& program, std::vector<int32_t> left_out)
    : program_(program), left_out_(std::move(left_out)), alive_(Liveness(program).at_stops()) {
  const auto is_left_out = [this](int32_t reg) {
    return std::find(left_out_.begin(), left_out_.end(), reg) != left_out_.end();
  };
  for (LiveRegisters& regs : alive_)
    regs.ints.erase(std::remove_if(regs.ints.begin(), regs.ints.end(), is_left_out), regs.ints.end());
}

void Stops::pack(const Frame& frame, std::vector<uint8_t>& out) const {
  const LiveRegisters& alive = alive_[index(frame.pc)];
  const size_t before = out.size();
  out.resize(before + kLongest + most_bytes(alive));
  uint8_t* end = out.data() + before;
  put_whole(end, frame.pc);
  end = basanos::pack(alive, frame, end);
  out.resize(static_cast<size_t>(end - out.data()));
}

const uint8_t* Stops::unpack(const uint8_t* from, Frame& frame) const {
  frame.restart(program_);
  for (int32_t reg : left_out_) frame.ints[index(reg)] = 0;
  frame.pc = take_whole(from);
  return basanos::unpack(alive_[index(frame.pc)], from, frame);
}

}  // namespace basanos
