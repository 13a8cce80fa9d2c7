// Kinds of cards that the rules never tell apart, as one kind: for counting, where they only keep states apart.
#pragma once
#include <cstdint>

#include "program.h"

namespace basanos {

struct KindsMerged {
  int32_t from = 0, to = 0;  // kinds of all decks together, before and after; both 0 where nothing was merged
};

// Kinds become one where all columns that are read are alike. That is sound where cards are dealt, moved, counted in
// all and looked up in tables, and nothing else is done with them. A bag is sorted by kind: there only neighbours
// become one, so that what is read item by item comes in the same order.
KindsMerged merge_alike_kinds(Program& program);

}  // namespace basanos
