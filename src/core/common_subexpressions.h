// What is known already need not be worked out again.
#pragma once
#include "program.h"

namespace basanos {

// A dataflow pass over available expressions: which registers and lists hold the result of which operation, on every
// path to a place. An available result is copied, a copy is read at its origin, and a jump that is known is taken or left
// out.
void reuse_common_subexpressions(Program& program);

// A list that is only ever filled with the same constants starts with them.
void settle_constant_lists(Program& program);

}  // namespace basanos
