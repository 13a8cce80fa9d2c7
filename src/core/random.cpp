#include "random.h"

#include <cmath>
#include <limits>

namespace basanos {

AliasTable::AliasTable(const std::vector<double>& weights) : slots_(weights.size()) {
  const size_t n = weights.size();
  double total = 0;
  for (double w : weights) total += w;
  std::vector<double> share(n);
  std::vector<uint32_t> small, large;
  for (size_t i = 0; i < n; ++i) {
    share[i] = weights[i] * static_cast<double>(n) / total;
    (share[i] < 1 ? small : large).push_back(static_cast<uint32_t>(i));
  }
  const auto always = std::numeric_limits<uint64_t>::max();
  while (!small.empty() && !large.empty()) {
    const uint32_t low = small.back(), high = large.back();
    small.pop_back();
    // A share of nothing must never be kept, not even once in 2^64 draws: hence the wrap to `other`.
    const uint64_t cut = static_cast<uint64_t>(std::ldexp(share[low], 64));
    slots_[low] = cut == 0 ? AliasSlot{always, {high, high}} : AliasSlot{cut - 1, {low, high}};
    share[high] -= 1 - share[low];
    if (share[high] < 1) {
      large.pop_back();
      small.push_back(high);
    }
  }
  for (uint32_t i : large) slots_[i] = {always, i, i};
  for (uint32_t i : small) slots_[i] = {always, i, i};  // left over by rounding alone
}

}  // namespace basanos
