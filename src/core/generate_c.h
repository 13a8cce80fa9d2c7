// A program printed as C: the same operations, one a line, as the interpreter has them. See basanos/native.h for
// what they stand on there, and basanos/job.h for what the printed function takes.
#pragma once
#include <string>

#include "program.h"

namespace basanos {

// The program must be one that optimised() gave.
std::string generated_c(const Program& program);

}  // namespace basanos
