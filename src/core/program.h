// A compiled game: flat register code and the tables it reads. Built from plain vectors, checked
// once on loading, never changed while an engine runs it.
#pragma once
#include <cstdint>
#include <stdexcept>
#include <string>
#include <vector>

#include "ops.h"
#include "random.h"

namespace basanos {

struct Instr {
  int32_t op, a, b, c, d;
  int32_t at;  // index of the place in the rules, for messages
  int32_t operand(int k) const { return k == 0 ? a : k == 1 ? b : k == 2 ? c : d; }
};

// One value for each of a run of consecutive labels, in int or real cells.
struct Array {
  int32_t base, first, size;
  bool real;
};

// Cells: the size, then `room` items.
struct List {
  int32_t base, room;
};

struct Table {
  int32_t first, size;  // TAB: keys first..first+size-1; TAB2: both keys, row major
  std::vector<int32_t> values;
};

struct Range {  // of a draw, both ends included
  int32_t low;
  uint32_t count;
};

struct Quantity {  // what a finished unit is asked for
  int32_t cell;
  bool real;
};

struct Program {
  std::vector<Instr> code;
  std::vector<int32_t> int_start;  // constants and zeros
  std::vector<double> real_start;
  std::vector<Array> arrays;
  std::vector<List> lists;
  std::vector<Table> tables;
  std::vector<Range> ranges;
  std::vector<std::vector<double>> weights;
  std::vector<AliasTable> aliases;  // one for each of weights
  std::vector<std::string> sources;
  int32_t outcome_cell = 0;
  int32_t outcome_count = 0;
  std::vector<Quantity> quantities;
  int64_t step_budget = 1000000;  // backward jumps allowed in one unit
};

// Throws std::invalid_argument when an operand points outside the program.
void validate(const Program& program);

}  // namespace basanos
