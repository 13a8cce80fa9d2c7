// What is known already need not be worked out again.
#pragma once
#include "program.h"

namespace basanos {

// At each operation, what holds on every way to it: which cells and lists hold the result of which operation on
// others that have not changed since. A result that is at hand is copied, a copy is read where it came from, and
// a jump whose way is known is taken or left out.
void reuse_common_subexpressions(Program& program);

// A list that is only ever filled with the same constants starts with them.
void settle_constant_lists(Program& program);

}  // namespace basanos
