// What a seat can know where it decides: distributions over the states that it cannot tell apart by what it has seen.
#pragma once
#include <utility>
#include <vector>

#include "hash_cons.h"
#include "ways.h"

namespace basanos {

class Beliefs {
 public:
  struct Weighted {
    Ways::State state;
    double probability;
  };

  // Their numbers, and how likely they are. What was seen tells arrivals apart: each is a situation of its own.
  std::vector<std::pair<uint32_t, double>> of(std::vector<Ways::Arrival>& arrivals);
  std::vector<Weighted> states(uint32_t number) const;
  Ways::State first_state(uint32_t number) const;

  size_t count() const { return table_.count(); }
  size_t bytes() const { return table_.bytes(); }

 private:
  uint32_t number_of(const Ways::Arrival* from, const Ways::Arrival* to, double all);

  HashConsTable table_;
  std::vector<uint32_t> sizes_;  // in states
};

}  // namespace basanos
