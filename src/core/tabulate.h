// A round's end as a table: where everything after the last draw depends on one or two registers of small range, the
// interpreter works it out once for all their values.
#pragma once
#include <optional>

#include "program.h"

namespace basanos {

struct Ends {
  int32_t low, high;
};

// The values a register can have, when a single draw or table gives them all.
std::optional<Ends> range_of(const Program& p, int32_t reg);

// True when the program has changed.
bool tabulate_end(Program& program);

}  // namespace basanos
