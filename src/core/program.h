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

// One value for each of a run of consecutive labels, in int or real registers.
struct Array {
  int32_t base, first, size;
  bool real;
};

// Cells: the size, then `room` items.
struct List {
  int32_t base, room;
};

// Lists that follow one another, one for each of a run of keys; all have the same room.
struct ListArray {
  int32_t list, first, size;
};

// The words of the game's word lists: word `w`, counted from 1, has the letters from start[w - 1] up to start[w].
struct Words {
  std::vector<int32_t> start{0}, letters;
  int32_t count() const { return static_cast<int32_t>(start.size()) - 1; }
};

constexpr size_t kMostMemos = 10000;
constexpr int32_t kMostLanes = 100000;

struct Table {
  int32_t first, size;  // TAB: keys first..first+size-1; TAB2: both keys, row major
  std::vector<int32_t> values;
};

struct Range {  // of a draw, both ends included
  int32_t low;
  uint32_t count;
};

struct Quantity {  // what a finished unit is asked for
  int32_t reg;
  bool real;
};

// A decision that is left open.
struct Site {
  int32_t decision, seat, group;  // sites of one group are asked at once; -1: asked alone
  bool several;                   // is an answer a list of items?
};

// Seats that the rules treat alike. Nothing but what they hold is told apart by them.
struct SymmetryTable {
  int32_t count = 0;               // 0 where they are not
  std::vector<int32_t> arrays;     // each by its first register: one register a seat
  std::vector<int32_t> list_arrays;   // each by its first list: one list a seat
  std::vector<int32_t> regs;      // that hold a seat, by its number from 1
  std::vector<int32_t> plain_regs, plain_lists;  // that have nothing to do with seats
  std::vector<int32_t> outcomes;   // what each becomes with every seat one further, from 1
};

struct Program {
  std::vector<Instr> code;
  std::vector<int32_t> int_start;  // constants and zeros
  std::vector<double> real_start;
  std::vector<Array> arrays;
  std::vector<List> lists;
  std::vector<ListArray> list_arrays;
  Words words;
  std::vector<Table> tables;
  std::vector<Range> ranges;
  std::vector<std::vector<double>> weights;
  std::vector<AliasTable> aliases;  // one for each of weights
  std::vector<std::string> sources;
  int32_t outcome_register = 0;
  int32_t outcome_count = 0;
  int32_t lane_register = -1, lanes = 0;  // where LANE stands in the code
  std::vector<Quantity> quantities;       // of each round
  std::vector<Quantity> unit_quantities;  // of a match or sitting of several rounds
  bool records_rounds = false;      // TALLY stood in the code, even if it cannot be reached
  SymmetryTable symmetry;
  std::vector<Site> sites;
  int32_t coverage_count = 0;              // how many places COVER tells apart
  int64_t step_budget = 1000000;  // backward jumps allowed in one unit
};

// Does a unit of the program hold several rounds, each told by TALLY? Else it is one round.
inline bool has_rounds(const Program& p) {
  if (p.records_rounds) return true;
  for (const Instr& in : p.code)
    if (in.op == OP_TALLY) return true;
  return false;
}

// The program, which knows its lanes. Throws std::invalid_argument where LANEs differ.
Program with_lanes_found(Program program);

// Throws std::invalid_argument where decisions are left open: `what` cannot be done with such a program.
void require_closed(const Program& program, const char* what);

// Makes of jumps back that are not counted ones that are: a program may come from anywhere, and must end.
void count_jumps_back(Program& program);

// Throws std::invalid_argument unless there is something to draw.
void check_weights(const std::vector<double>& weights);

// Throws std::invalid_argument when an operand points outside the program, or anything else in it could lead a
// run out of bounds or on for ever.
void validate(const Program& program);

}  // namespace basanos
