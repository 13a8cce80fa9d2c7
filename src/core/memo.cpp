#include "memo.h"

#include <algorithm>
#include <cstring>

#include "liveness.h"
#include "interpreter.h"
#include "rewrite.h"

namespace basanos {
namespace {

constexpr size_t kMostBytes = size_t{1} << 28;

// The registers that operations `first` to `last` read before they write them.
Bitset read_from_outside(const Program& p, const DefUse& def_use, size_t first, size_t last) {
  std::vector<Bitset> before(last + 2, Bitset(def_use.count()));
  for (bool again = true; again;) {
    again = false;
    for (size_t i = last + 1; i-- > first;) {
      Instr in = p.code[i];
      Bitset live(def_use.count());
      const auto goes_to = [&](size_t to) {
        if (to >= first && to <= last) live.unite(before[to]);
      };
      if (!never_falls_through(in.op)) goes_to(i + 1);
      each_target(in, [&](int32_t& t) { goes_to(index(t)); });
      def_use.each_overwrite(in, [&live](size_t k) { live.drop(k); });
      def_use.each_read(in, [&live](size_t k) { live.put(k); });
      again = before[i].unite(live) || again;
    }
  }
  return before[first];
}

}  // namespace

Memo::Memo(const Program& p) {
  for (size_t i = 0; i < p.code.size(); ++i) {
    const Instr& in = p.code[i];
    if (in.op != OP_MEMO && in.op != OP_STORE) continue;
    if (regions_.size() <= index(in.a)) regions_.resize(index(in.a) + 1);
    (in.op == OP_MEMO ? regions_[index(in.a)].look_up : regions_[index(in.a)].keep) = static_cast<int32_t>(i);
  }
  const DefUse def_use(p);
  const Liveness live(p);
  for (Region& region : regions_) {
    if (region.look_up < 0 || region.keep < region.look_up) {
      region.keep = -1;
      continue;
    }
    const size_t first = index(region.look_up) + 1, last = index(region.keep);
    region.reads = live.registers_of(read_from_outside(p, def_use, first, last));
    Bitset written(def_use.count());
    for (size_t i = first; i < last; ++i) def_use.each_write(p.code[i], [&written](size_t k) { written.put(k); });
    written.intersect(live.alive_before(last));
    region.writes = live.registers_of(written);
    key_.resize(std::max(key_.size(), sizeof(int32_t) + most_bytes(region.reads)));
    made_.resize(std::max(made_.size(), most_bytes(region.writes)));
  }
}

bool Memo::look_up(int32_t k, Frame& frame, int64_t& budget) {
  const Region& region = regions_[index(k)];
  wanted_ = -1;
  if (region.keep < 0) return false;
  std::memcpy(key_.data(), &k, sizeof k);
  key_size_ = static_cast<size_t>(pack(region.reads, frame, key_.data() + sizeof k) - key_.data());
  const uint32_t found = known_.find(key_.data(), key_size_);
  if (found == HashConsTable::kNone) {
    wanted_ = k;
    budget_ = budget;
    streams_ = frame.streams;
    return false;
  }
  if (results_[found].cost > budget) return false;  // it would not have come to its end
  budget -= results_[found].cost;
  unpack(region.writes, result_bytes_.data() + results_[found].at, frame);
  return true;
}

void Memo::keep(int32_t k, const Frame& frame, int64_t budget) {
  if (wanted_ != k || streams_ != frame.streams) return;
  wanted_ = -1;
  if (known_.bytes() + result_bytes_.size() > kMostBytes) return;
  known_.add(key_.data(), key_size_);
  results_.push_back({result_bytes_.size(), budget_ - budget});
  result_bytes_.insert(result_bytes_.end(), made_.data(), pack(regions_[index(k)].writes, frame, made_.data()));
}

}  // namespace basanos
