#include "beliefs.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace basanos {
namespace {

constexpr double kWhole = 1099511627776.0;  // 2^40: weights are rounded to it, so that equal beliefs are one
constexpr size_t kBytesOfState = sizeof(Ways::State) + sizeof(uint64_t);

template <typename T>
void append(std::vector<uint8_t>& key, const T& value) {
  const auto* const bytes = reinterpret_cast<const uint8_t*>(&value);
  key.insert(key.end(), bytes, bytes + sizeof value);
}

}  // namespace

std::vector<std::pair<uint32_t, double>> Beliefs::of(std::vector<Ways::Arrival>& arrivals) {
  std::sort(arrivals.begin(), arrivals.end(), [](const Ways::Arrival& a, const Ways::Arrival& b) {
    return a.seen[0] == b.seen[0] ? a.state < b.state : a.seen[0] < b.seen[0];
  });
  std::vector<std::pair<uint32_t, double>> all;
  for (size_t from = 0, to = 0; from < arrivals.size(); from = to) {
    double probability = 0;
    const SeenHash& seen = arrivals[from].seen[0];
    for (; to < arrivals.size() && arrivals[to].seen[0] == seen; ++to) probability += arrivals[to].probability;
    all.push_back({number_of(arrivals.data() + from, arrivals.data() + to, probability), probability});
  }
  return all;
}

// The number of a distribution over states, which come in order.
uint32_t Beliefs::number_of(const Ways::Arrival* from, const Ways::Arrival* to, double all) {
  std::vector<uint8_t> key;
  while (from != to) {
    const Ways::State state = from->state;
    double probability = 0;
    for (; from != to && from->state == state; ++from) probability += from->probability;
    const auto weight = static_cast<uint64_t>(std::llround(probability / all * kWhole));
    if (weight == 0) continue;
    append(key, state);
    append(key, weight);
  }
  const uint32_t number = table_.find_or_add(key);
  if (sizes_.size() <= number) sizes_.push_back(static_cast<uint32_t>(key.size() / kBytesOfState));
  return number;
}

std::vector<Beliefs::Weighted> Beliefs::states(uint32_t number) const {
  std::vector<Weighted> all;
  const uint8_t* at = table_.key(number);
  double sum = 0;
  for (uint32_t k = 0; k < sizes_[number]; ++k, at += kBytesOfState) {
    Ways::State state;
    uint64_t weight;
    std::memcpy(&state, at, sizeof state);
    std::memcpy(&weight, at + sizeof state, sizeof weight);
    all.push_back({state, static_cast<double>(weight)});
    sum += all.back().probability;
  }
  for (Weighted& each : all) each.probability /= sum;
  return all;
}

Ways::State Beliefs::first_state(uint32_t number) const {
  Ways::State state;
  std::memcpy(&state, table_.key(number), sizeof state);
  return state;
}

}  // namespace basanos
