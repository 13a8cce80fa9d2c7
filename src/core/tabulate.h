// A round's end as a table: where everything after the last draw hangs on one or two cells of small
// range, it is worked out once for all their values, by the machine itself.
#pragma once
#include "program.h"

namespace basanos {

// True when the program has changed.
bool tabulate_end(Program& program);

}  // namespace basanos
