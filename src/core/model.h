// What a walk over states needs of a game: it can be run to its next stop, kept there as bytes, and taken up again.
#pragma once
#include <cstdint>
#include <memory>
#include <utility>
#include <vector>

#include "branch.h"
#include "deferred_draws.h"
#include "interpreter.h"
#include "pack.h"
#include "symmetry.h"
#include "weights.h"

namespace basanos {

class Model {
 public:
  virtual ~Model() = default;
  virtual void start() = 0;
  virtual Stop run() = 0;      // to the next stop
  virtual void go_on() = 0;    // behind the end of a round
  virtual void pack(std::vector<uint8_t>& out) const = 0;
  virtual void unpack(const uint8_t* from) = 0;
  // At a draw, as in branch.h; at an open decision each answer by its number, or kPass where there is none.
  static constexpr int32_t kPass = -1;
  virtual int32_t source() const = 0;
  virtual size_t branch_bound() const = 0;
  virtual bool branches(std::vector<Branch>& out) = 0;
  virtual bool take(int32_t value) = 0;
  // At a SPLIT, which only a count has: the number of parts of its set. Each is entered in turn, from the first on,
  // which gives its share; then they are joined again.
  virtual bool at_split() const { return false; }
  virtual size_t split() { return 0; }
  virtual Weight enter(size_t) { return 0; }
  virtual void join() {}
  // States that are rotations of one another over the seats: 1 where there are none here.
  virtual size_t rotations() const { return 1; }
  virtual void rotate() {}
};

// One program.
class ProgramModel : public Model {
 public:
  explicit ProgramModel(const Program& p, const SeatSymmetry* symmetry = nullptr, std::vector<int32_t> left_out = {})
      : program(p), frame(p), stops_(p, std::move(left_out)), symmetry_(symmetry) {}

  void start() override { frame.restart(program); }
  Stop run() override {
    const int64_t budget = frame.budget;
    const Stop stop = basanos::run<Branching>(program, frame);
    steps_ += static_cast<uint64_t>(budget - frame.budget - frame.steps_skipped);
    frame.steps_skipped = 0;
    return stop;
  }
  void go_on() override {
    ++frame.pc;
    frame.budget = program.step_budget;
  }
  void pack(std::vector<uint8_t>& out) const override { stops_.pack(frame, out); }
  void unpack(const uint8_t* from) override { unpack_from(from); }
  const uint8_t* unpack_from(const uint8_t* from) { return stops_.unpack(from, frame); }  // gives what follows

  int32_t source() const override { return program.code[static_cast<size_t>(frame.pc)].b; }
  size_t branch_bound() const override { return basanos::branch_bound(program, frame); }
  bool branches(std::vector<Branch>& out) override {
    return site() >= 0 ? answers(out) : branches_of(program, frame, out);
  }
  bool take(int32_t value) override {
    if (value == kPass) return true;  // it went on when its answers were asked for
    if (site() < 0) return basanos::take(program, frame, value);
    return offer() != Stop::fail && decide(program, frame, static_cast<size_t>(value));
  }

  bool at_split() const override { return program.code[static_cast<size_t>(frame.pc)].op == OP_SPLIT; }
  size_t split() override {
    if (splitter_ == nullptr) splitter_ = std::make_unique<SetSplitter>(program);
    return splitter_->split(frame);
  }
  Weight enter(size_t part) override { return splitter_->enter(part, frame); }
  void join() override { splitter_->join(); }

  // The open decision at which it stands, or -1.
  int32_t site() const {
    const Instr& in = program.code[static_cast<size_t>(frame.pc)];
    return in.op == OP_OPEN ? in.a : decides(in.op) ? in.b : -1;
  }

  // Goes from an open decision to its answers; another stop than at a decision is that of a pass.
  Stop offer() {
    if (decides(program.code[static_cast<size_t>(frame.pc)].op)) return Stop::decision;
    open_decision(frame);
    return run();
  }

  size_t rotations() const override {
    return symmetry_ != nullptr && symmetry_->is_symmetric_at(frame.pc) ? symmetry_->count() : 1;
  }
  void rotate() override { symmetry_->rotate(frame); }

  // Backward jumps so far, without those that a memo table made superfluous: time that is no clock.
  uint64_t steps() const { return steps_; }

  const Program& program;
  Frame frame;

 private:
  bool answers(std::vector<Branch>& out) {
    out.clear();
    const Stop stop = offer();
    if (stop != Stop::decision) out.push_back({kPass, 1});
    else for (size_t k = 0; k < frame.offers.count(); ++k) out.push_back({static_cast<int32_t>(k), 1});
    return stop != Stop::fail;
  }

  const Stops stops_;
  const SeatSymmetry* const symmetry_;
  std::unique_ptr<SetSplitter> splitter_;
  uint64_t steps_ = 0;
};

}  // namespace basanos
