#include "generate_c.h"

#include <cstdio>

#include "memo.h"

namespace basanos {
namespace {

using std::to_string;

size_t index(int32_t k) { return static_cast<size_t>(k); }

std::string whole(int32_t value) { return value == INT32_MIN ? "INT32_MIN" : to_string(value); }

std::string fraction(double value) {
  char text[40];
  std::snprintf(text, sizeof text, "%a", value);
  return text;
}

// The operations that use each register of a unit, and whether anything else does.
struct Cells {
  std::vector<bool> used, written, shared;
  explicit Cells(size_t count) : used(count), written(count), shared(count) {}
};

class CGenerator {
 public:
  explicit CGenerator(const Program& p)
      : p_(p),
        memo_(p),
        recorded_(has_rounds(p) || !p.unit_quantities.empty()),
        wholes_(p.int_start.size()),
        reals_(p.real_start.size()) {
    look();
  }

  std::string text() {
    out_ = "#include <basanos/native.h>\n";
    constants();
    out_ +=
        "int play_units(PlayJob* job) {\n  uint64_t unit = job->unit;\n  int32_t* const regs = job->ints;\n  double* "
        "const numbers = job->reals;\n  int64_t budget, rounds_left;\n  (void)regs; (void)numbers; "
        "(void)rounds_left;\n";
    declare(wholes_, p_.int_start, "int32_t", 'i', "regs", whole);
    declare(reals_, p_.real_start, "double", 'd', "numbers", fraction);
    for (size_t s = 0; s < p_.sources.size(); ++s)
      out_ += memo_.regions() > 0 ? "#define s" + to_string(s) + " job->streams[" + to_string(s) + "]\n"
                                  : "  uint64_t s" + to_string(s) + ";\n";
    out_ += "start:\n";
    for (size_t s = 0; s < p_.sources.size(); ++s)
      out_ += "  s" + to_string(s) + " = stream_start(job->keys[" + to_string(s) + "], unit);\n";
    out_ += "  budget = job->step_budget;\n  rounds_left = job->step_budget;\n#line 1\n";
    for (size_t i = 0; i < p_.code.size(); ++i) operation(i);
    out_ += "ended:\n";
    counting();
    out_ +=
        "  if (unit != job->last) {\n    ++unit;\n    goto start;\n  }\n  job->unit = unit;\n  return 1;\nfailed:\n  "
        "job->unit = unit;\n  return 0;\n}\n";
    return std::move(out_);
  }

 private:
  void look() {
    for (const Array& a : p_.arrays)
      for (int32_t k = 0; k < a.size; ++k) (a.real ? reals_ : wholes_).shared[index(a.base + k)] = true;
    for (const List& l : p_.lists)
      for (int32_t k = 0; k <= l.room; ++k) wholes_.shared[index(l.base + k)] = true;
    memo_.each_places([this](const LiveRegisters& places) {
      for (int32_t reg : places.ints) wholes_.used[index(reg)] = wholes_.shared[index(reg)] = true;
      for (int32_t reg : places.reals) reals_.used[index(reg)] = reals_.shared[index(reg)] = true;
    });
    wholes_.used[index(p_.outcome_register)] = true;
    wholes_.shared[index(p_.outcome_register)] = wholes_.shared[index(p_.outcome_register)] || recorded_;
    for (const std::vector<Quantity>* list : {&p_.quantities, &p_.unit_quantities})
      for (const Quantity& q : *list) {
        Cells& regs = q.real ? reals_ : wholes_;
        regs.used[index(q.reg)] = true;
        if (recorded_) regs.shared[index(q.reg)] = true;
      }
    for (const Instr& in : p_.code)
      for (int k = 0; k < 4; ++k) {
        const char role = op_info(in.op).roles[k];
        if (role == 'i' || role == 'I' || role == 'U') touch(wholes_, in.operand(k), role != 'I');
        if (role == 'd' || role == 'D') touch(reals_, in.operand(k), role == 'd');
      }
  }

  static void touch(Cells& regs, int32_t reg, bool writes) {
    regs.used[index(reg)] = true;
    if (writes) regs.written[index(reg)] = true;
  }

  void constant(const char* what, size_t k, int64_t value) {
    out_ += std::string("#define ") + what + to_string(k) + " " + to_string(value) + "\n";
  }

  void constants() {
    for (size_t k = 0; k < p_.lists.size(); ++k) {
      constant("list_", k, p_.lists[k].base);
      constant("room_", k, p_.lists[k].room);
    }
    for (size_t k = 0; k < p_.arrays.size(); ++k) {
      constant("array_", k, p_.arrays[k].base);
      constant("array_first_", k, p_.arrays[k].first);
      constant("array_size_", k, p_.arrays[k].size);
    }
    for (size_t k = 0; k < p_.list_arrays.size(); ++k) {
      constant("family_", k, p_.list_arrays[k].list);
      constant("family_first_", k, p_.list_arrays[k].first);
      constant("family_size_", k, p_.list_arrays[k].size);
    }
    for (size_t k = 0; k < p_.tables.size(); ++k) {
      constant("table_first_", k, p_.tables[k].first);
      constant("table_size_", k, p_.tables[k].size);
    }
    for (size_t k = 0; k < memo_.regions(); ++k) constant("keep_", k, memo_.store_at(static_cast<int32_t>(k)));
    for (size_t k = 0; k < p_.ranges.size(); ++k) {
      constant("range_low_", k, p_.ranges[k].low);
      constant("range_count_", k, p_.ranges[k].count);
    }
  }

  template <class Value, class Text>
  void declare(const Cells& regs, const std::vector<Value>& start, const char* type, char letter, const char* row,
               Text value) {
    for (size_t k = 0; k < start.size(); ++k) {
      if (!regs.used[k]) continue;
      const std::string name = letter + to_string(k);
      if (regs.shared[k]) out_ += "#define " + name + " " + row + "[" + to_string(k) + "]\n";
      else
        out_ += std::string(regs.written[k] ? "  " : "  const ") + type + " " + name + " = " + value(start[k]) + ";\n";
    }
  }

  void operation(size_t i) {
    const Instr& in = p_.code[i];
    out_ += "L" + to_string(i) + ": { BSN_DO_" + op_info(in.op).name + "(";
    for (int k = 0; k < 4; ++k) out_ += (k > 0 ? ", " : "") + whole(in.operand(k));
    out_ += ") }\n";
  }

  void counting() {
    if (recorded_) {
      out_ += "  job->finished(job->recorder);\n";
      return;
    }
    out_ +=
        "  BSN_COUNT_OUTCOME(BSN_INT(" + to_string(p_.outcome_register) + "), " + to_string(p_.outcome_count) + ")\n";
    for (size_t q = 0; q < p_.quantities.size(); ++q) {
      const std::string reg = to_string(p_.quantities[q].reg), number = to_string(q);
      if (p_.quantities[q].real) out_ += "  job->real(job->recorder, " + number + ", BSN_NUM(" + reg + "));\n";
      else out_ += "  BSN_COUNT_WHOLE(" + number + ", BSN_INT(" + reg + "))\n";
    }
  }

  const Program& p_;
  const Memo memo_;
  const bool recorded_;  // the registers are read from outside
  Cells wholes_, reals_;
  std::string out_;
};

}  // namespace

std::string generated_c(const Program& program) {
  require_closed(program, "printed as C");
  return CGenerator(program).text();
}

}  // namespace basanos
