#include "unit_rows.h"

#include <cstring>

#include "optimise.h"

namespace basanos {
namespace {

// Adds every round to the last row.
class RowByRow final : public Sampling {
 public:
  RowByRow(const Program& program, UnitRows& rows) : program_(program), rows_(rows) {}

  void round(Frame& frame) override {
    double* const row = rows_.values.data() + rows_.values.size() - rows_.columns;
    const int32_t outcome = frame.ints[static_cast<size_t>(program_.outcome_register)];
    if (outcome < 1 || outcome > program_.outcome_count) throw std::invalid_argument("broken program: outcome");
    row[0] += 1;
    row[outcome] += 1;
    mix(static_cast<uint64_t>(outcome));
    for (size_t q = 0; q < program_.quantities.size(); ++q) {
      const double value = value_of(program_.quantities[q], frame);
      row[1 + static_cast<size_t>(program_.outcome_count) + q] += value;
      uint64_t bits;
      std::memcpy(&bits, &value, sizeof bits);
      mix(bits);
    }
    row[rows_.columns - 1] = static_cast<double>(hash_ >> 11);
  }

  // At the end of the unit.
  void whole(const Frame& frame) {
    double* const end = rows_.values.data() + rows_.values.size() - 1;
    const size_t n = program_.unit_quantities.size();
    for (size_t q = 0; q < n; ++q) *(end - n + q) = value_of(program_.unit_quantities[q], frame);
  }

 private:
  static double value_of(const Quantity& quantity, const Frame& frame) {
    const auto reg = static_cast<size_t>(quantity.reg);
    return quantity.real ? frame.reals[reg] + 0.0 : frame.ints[reg];
  }

  void mix(uint64_t x) { hash_ = mix64(hash_ + BASANOS_GAMMA + x); }

  const Program& program_;
  UnitRows& rows_;
  uint64_t hash_ = 0;
};

}  // namespace

UnitRows unit_rows(const Prepared& prepared, uint64_t seed, uint64_t first, uint64_t last,
                   const std::function<bool(uint64_t)>& poll) {
  const Program& program = prepared.ready;
  require_closed(program, "sampled");
  const bool several = has_rounds(program);
  UnitRows rows;
  rows.columns = 2 + static_cast<size_t>(program.outcome_count) + program.quantities.size() +
                 program.unit_quantities.size();
  std::vector<uint64_t> keys;
  for (const std::string& source : program.sources) keys.push_back(source_key(seed, source));
  Frame frame(program);
  for (uint64_t unit = first; unit <= last; ++unit) {
    if (!poll(unit - first)) {
      rows.stopped = true;
      break;
    }
    for (size_t s = 0; s < keys.size(); ++s) frame.streams[s] = stream_start(keys[s], unit);
    rows.values.resize(rows.values.size() + rows.columns);
    RowByRow mode(program, rows);
    frame.restart(program);
    if (run(program, frame, mode) != Stop::end) {
      rows.values.resize(rows.values.size() - rows.columns);
      rows.failure = failure_of(program, frame);
      break;
    }
    rows.steps += static_cast<uint64_t>(program.step_budget - frame.budget);
    if (several) mode.whole(frame);
    else mode.round(frame);
  }
  return rows;
}

}  // namespace basanos
