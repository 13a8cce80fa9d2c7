#include "symmetry.h"

#include <algorithm>
#include <map>

#include "rewrite.h"

namespace basanos {
namespace {

// The draws that are in the code once, for whatever seat: those of a player are there once for each seat.
std::map<int32_t, size_t> single_draws(const Program& p) {
  std::map<int32_t, size_t> at;
  std::vector<int32_t> again;
  for (size_t i = 0; i < p.code.size(); ++i)
    if (is_chance(p.code[i].op) && !at.emplace(p.code[i].at, i).second) again.push_back(p.code[i].at);
  for (int32_t place : again) at.erase(place);
  return at;
}

// The relation of each register of a state to seats.
class Roles {
 public:
  explicit Roles(const Program& p)
      : symmetry_(p.symmetry), plain_ints_(p.int_start.size()), plain_lists_(p.int_start.size()) {
    for (int32_t reg : symmetry_.plain_regs) plain_ints_[index(reg)] = true;
    for (int32_t list : symmetry_.plain_lists) plain_lists_[index(p.lists[index(list)].base)] = true;
    for (int32_t base : symmetry_.arrays)
      for (int32_t k = 0; k < symmetry_.count; ++k) turning_ints_.push_back(base + k);
    turning_ints_.insert(turning_ints_.end(), symmetry_.regs.begin(), symmetry_.regs.end());
    for (int32_t first : symmetry_.list_arrays)
      for (int32_t k = 0; k < symmetry_.count; ++k) turning_lists_.push_back(p.lists[index(first + k)].base);
    std::sort(turning_ints_.begin(), turning_ints_.end());
    std::sort(turning_lists_.begin(), turning_lists_.end());
  }

  // Is nothing in the state but what is known to turn and what does not? And all of the former still there in `kept`,
  // which is what is left of the state where the program takes some of it as known? What it takes as known may be so
  // for one seat only.
  bool restore_recorded(const LiveRegisters& state, const LiveRegisters& kept) const {
    const auto turns = [](const std::vector<int32_t>& turning, int32_t reg) {
      return std::binary_search(turning.begin(), turning.end(), reg);
    };
    const auto has = [](const std::vector<int32_t>& regs, int32_t reg) {
      return std::find(regs.begin(), regs.end(), reg) != regs.end();
    };
    for (int32_t reg : state.ints) {
      if (turns(turning_ints_, reg) ? !has(kept.ints, reg) : !plain_ints_[index(reg)]) return false;
    }
    if (!state.reals.empty()) return false;
    for (const List& list : state.lists) {
      const auto same = [&list](const List& other) { return other.base == list.base; };
      if (turns(turning_lists_, list.base) ? std::none_of(kept.lists.begin(), kept.lists.end(), same)
                                           : !plain_lists_[index(list.base)])
        return false;
    }
    return whole(kept);
  }

 private:
  // All seats of an array, or none.
  bool whole(const LiveRegisters& kept) const {
    for (int32_t base : symmetry_.arrays) {
      const auto in_array = [&](int32_t reg) { return reg >= base && reg < base + symmetry_.count; };
      const auto there = std::count_if(kept.ints.begin(), kept.ints.end(), in_array);
      if (there != 0 && there != symmetry_.count) return false;
    }
    return true;
  }

  const SymmetryTable& symmetry_;
  std::vector<bool> plain_ints_, plain_lists_;  // the latter by where they begin
  std::vector<int32_t> turning_ints_, turning_lists_;
};

}  // namespace

SeatSymmetry::SeatSymmetry(const Program& written, const Program& program)
    : symmetry_(program.symmetry),
      lists_(program.lists),
      count_(std::max<size_t>(1, index(symmetry_.count))),
      symmetric_(program.code.size()) {
  if (count_ == 1) return;
  const Liveness before(written), after(program);
  const std::map<int32_t, size_t> draws = single_draws(written);
  const Roles roles(program);
  for (const auto& [place, i] : single_draws(program)) {
    const auto found = draws.find(place);
    if (found != draws.end()) symmetric_[i] = roles.restore_recorded(before.before(found->second), after.before(i));
  }
}

void SeatSymmetry::rotate(Frame& frame) const {
  for (int32_t base : symmetry_.arrays) {
    const auto first = frame.ints.begin() + base;
    std::rotate(first, first + symmetry_.count - 1, first + symmetry_.count);
  }
  for (int32_t first : symmetry_.list_arrays)
    for (int32_t k = symmetry_.count - 1; k > 0; --k) {
      const List& list = lists_[index(first + k)];
      const auto here = frame.ints.begin() + list.base;
      std::swap_ranges(here, here + list.room + 1, frame.ints.begin() + lists_[index(first + k - 1)].base);
    }
  for (int32_t reg : symmetry_.regs) {
    int32_t& seat = frame.ints[index(reg)];
    if (seat >= 1 && seat <= symmetry_.count) seat = seat % symmetry_.count + 1;
  }
}

int32_t SeatSymmetry::rotated(int32_t outcome, size_t times) const {
  for (; times > 0; --times) outcome = symmetry_.outcomes[index(outcome - 1)];
  return outcome;
}

}  // namespace basanos
