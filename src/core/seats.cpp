#include "seats.h"

#include <algorithm>
#include <map>

#include "rewrite.h"

namespace basanos {
namespace {

// The draws that stand in the code once, for whatever seat: those of a player stand there once for each seat.
std::map<int32_t, size_t> single_draws(const Program& p) {
  std::map<int32_t, size_t> at;
  std::vector<int32_t> again;
  for (size_t i = 0; i < p.code.size(); ++i)
    if (is_chance(p.code[i].op) && !at.emplace(p.code[i].at, i).second) again.push_back(p.code[i].at);
  for (int32_t place : again) at.erase(place);
  return at;
}

// What the cells of a state have to do with seats.
class Roles {
 public:
  explicit Roles(const Program& p) : seats_(p.alike), plain_ints_(p.int_start.size()), plain_lists_(p.int_start.size()) {
    for (int32_t cell : seats_.plain_cells) plain_ints_[index(cell)] = true;
    for (int32_t list : seats_.plain_lists) plain_lists_[index(p.lists[index(list)].base)] = true;
    for (int32_t base : seats_.arrays)
      for (int32_t k = 0; k < seats_.count; ++k) turning_ints_.push_back(base + k);
    turning_ints_.insert(turning_ints_.end(), seats_.cells.begin(), seats_.cells.end());
    for (int32_t first : seats_.families)
      for (int32_t k = 0; k < seats_.count; ++k) turning_lists_.push_back(p.lists[index(first + k)].base);
    std::sort(turning_ints_.begin(), turning_ints_.end());
    std::sort(turning_lists_.begin(), turning_lists_.end());
  }

  // Is nothing in the state but what is known to turn and what does not? And all of the former still there in `kept`,
  // which is what is left of the state where the program takes some of it as known? What it takes as known may be so
  // for one seat only.
  bool tell(const LiveCells& state, const LiveCells& kept) const {
    const auto turns = [](const std::vector<int32_t>& turning, int32_t cell) { return std::binary_search(turning.begin(), turning.end(), cell); };
    const auto has = [](const std::vector<int32_t>& cells, int32_t cell) { return std::find(cells.begin(), cells.end(), cell) != cells.end(); };
    for (int32_t cell : state.ints) {
      if (turns(turning_ints_, cell) ? !has(kept.ints, cell) : !plain_ints_[index(cell)]) return false;
    }
    if (!state.reals.empty()) return false;
    for (const List& list : state.lists) {
      const auto same = [&list](const List& other) { return other.base == list.base; };
      if (turns(turning_lists_, list.base) ? std::none_of(kept.lists.begin(), kept.lists.end(), same) : !plain_lists_[index(list.base)]) return false;
    }
    return whole(kept);
  }

 private:
  // All seats of an array, or none.
  bool whole(const LiveCells& kept) const {
    for (int32_t base : seats_.arrays) {
      const auto in_array = [&](int32_t cell) { return cell >= base && cell < base + seats_.count; };
      const auto there = std::count_if(kept.ints.begin(), kept.ints.end(), in_array);
      if (there != 0 && there != seats_.count) return false;
    }
    return true;
  }

  const AlikeSeats& seats_;
  std::vector<bool> plain_ints_, plain_lists_;  // the latter by where they begin
  std::vector<int32_t> turning_ints_, turning_lists_;
};

}  // namespace

Seats::Seats(const Program& written, const Program& program)
    : seats_(program.alike), lists_(program.lists), count_(std::max<size_t>(1, index(seats_.count))), alike_(program.code.size()) {
  if (count_ == 1) return;
  const Liveness before(written), after(program);
  const std::map<int32_t, size_t> draws = single_draws(written);
  const Roles roles(program);
  for (const auto& [place, i] : single_draws(program)) {
    const auto found = draws.find(place);
    if (found != draws.end()) alike_[i] = roles.tell(before.before(found->second), after.before(i));
  }
}

void Seats::turn(Frame& frame) const {
  for (int32_t base : seats_.arrays) {
    const auto first = frame.ints.begin() + base;
    std::rotate(first, first + seats_.count - 1, first + seats_.count);
  }
  for (int32_t first : seats_.families)
    for (int32_t k = seats_.count - 1; k > 0; --k) {
      const List& list = lists_[index(first + k)];
      const auto here = frame.ints.begin() + list.base;
      std::swap_ranges(here, here + list.room + 1, frame.ints.begin() + lists_[index(first + k - 1)].base);
    }
  for (int32_t cell : seats_.cells) {
    int32_t& seat = frame.ints[index(cell)];
    if (seat >= 1 && seat <= seats_.count) seat = seat % seats_.count + 1;
  }
}

int32_t Seats::turned(int32_t outcome, size_t times) const {
  for (; times > 0; --times) outcome = seats_.outcomes[index(outcome - 1)];
  return outcome;
}

}  // namespace basanos
