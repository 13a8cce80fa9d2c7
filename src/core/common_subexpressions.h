// Common subexpressions: what is known is not computed again.
#pragma once
#include "program.h"

namespace basanos {

// A dataflow pass over available expressions: which registers and lists hold the result of which operation, on every
// path to a place. An available result is copied, a copy is read at its origin, and a known jump is taken or left out.
void reuse_common_subexpressions(Program& program);

// A list that is only ever filled with the same constants starts with them.
void settle_constant_lists(Program& program);

}  // namespace basanos
