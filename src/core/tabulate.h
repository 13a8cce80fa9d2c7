// A round's end as a table: where everything after the last draw depends on one or two registers of small range, the
// interpreter works it out once for all their values.
#pragma once
#include "program.h"

namespace basanos {

// True when the program has changed.
bool tabulate_end(Program& program);

}  // namespace basanos
