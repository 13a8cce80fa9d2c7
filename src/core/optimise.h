// The same program, shorter: ASK marks out, jumps threaded, comparisons fused with the jumps that
// read them, what nobody reads left out. What a round draws and how it ends stay the same; an
// operation that can fail is never removed.
#pragma once
#include "program.h"

namespace basanos {

Program optimised(const Program& program);

enum class Optimise { no, yes };

// A loaded program and what the engines run: made once, used by as many calls as there are.
struct Prepared {
  Prepared(Program program, Optimise how = Optimise::yes);  // NOLINT: any program is as good as prepared
  Program written, ready;
};

}  // namespace basanos
