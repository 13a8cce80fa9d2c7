#include "memo.h"

#include <cstring>

#include "live.h"
#include "machine.h"
#include "rewrite.h"

namespace basanos {
namespace {

constexpr size_t kMostBytes = size_t{1} << 28;

// What operations `first` to `last` read before they write it themselves.
NumberSet read_from_outside(const Program& p, const Effects& effects, size_t first, size_t last) {
  std::vector<NumberSet> before(last + 2, NumberSet(effects.count()));
  for (bool again = true; again;) {
    again = false;
    for (size_t i = last + 1; i-- > first;) {
      Instr in = p.code[i];
      NumberSet live(effects.count());
      const auto goes_to = [&](size_t to) {
        if (to >= first && to <= last) live.unite(before[to]);
      };
      if (!never_falls_through(in.op)) goes_to(i + 1);
      each_target(in, [&](int32_t& t) { goes_to(index(t)); });
      effects.each_overwrite(in, [&live](size_t k) { live.drop(k); });
      effects.each_read(in, [&live](size_t k) { live.put(k); });
      again = before[i].unite(live) || again;
    }
  }
  return before[first];
}

template <class Value>
void append(std::string& out, const Value* from, size_t count) {
  out.append(reinterpret_cast<const char*>(from), count * sizeof(Value));
}

}  // namespace

Memo::Memo(const Program& p) {
  for (size_t i = 0; i < p.code.size(); ++i) {
    const Instr& in = p.code[i];
    if (in.op != OP_RECALL && in.op != OP_KEEP) continue;
    if (regions_.size() <= index(in.a)) regions_.resize(index(in.a) + 1);
    (in.op == OP_RECALL ? regions_[index(in.a)].recall : regions_[index(in.a)].keep) = static_cast<int32_t>(i);
  }
  const Effects effects(p);
  const Liveness live(p);
  NumberSet changing(effects.count());
  for (const Instr& in : p.code) effects.each_write(in, [&changing](size_t k) { changing.put(k); });
  const auto places_of = [&](const NumberSet& set) {
    Places places;
    for (size_t k = 0; k < effects.count(); ++k) {
      if (!set.has(k) || !changing.has(k)) continue;
      if (k < effects.reals()) places.ints.push_back(static_cast<int32_t>(k));
      else if (k < effects.lists()) places.reals.push_back(static_cast<int32_t>(k - effects.reals()));
      else places.lists.push_back(p.lists[k - effects.lists()].base);
    }
    return places;
  };
  for (Region& region : regions_) {
    if (region.recall < 0 || region.keep < region.recall) {
      region.keep = -1;
      continue;
    }
    const size_t first = index(region.recall) + 1, last = index(region.keep);
    region.reads = places_of(read_from_outside(p, effects, first, last));
    NumberSet written(effects.count());
    for (size_t i = first; i < last; ++i) effects.each_write(p.code[i], [&written](size_t k) { written.put(k); });
    written.intersect(live.alive_before(last));
    region.writes = places_of(written);
  }
}

bool Memo::recall(int32_t k, Frame& frame, int64_t& budget) {
  const Region& region = regions_[index(k)];
  wanted_ = -1;
  if (region.keep < 0) return false;
  key_.assign(reinterpret_cast<const char*>(&k), sizeof k);
  pack(region.reads, frame, key_);
  const auto found = results_.find(key_);
  if (found == results_.end()) {
    wanted_ = k;
    budget_ = budget;
    streams_ = frame.streams;
    return false;
  }
  if (found->second.cost > budget) return false;  // it would not have come to its end
  budget -= found->second.cost;
  unpack(region.writes, found->second.bytes, frame);
  return true;
}

void Memo::keep(int32_t k, const Frame& frame, int64_t budget) {
  if (wanted_ != k || streams_ != frame.streams) return;
  wanted_ = -1;
  if (bytes_ > kMostBytes) return;
  Result result{{}, budget_ - budget};
  pack(regions_[index(k)].writes, frame, result.bytes);
  bytes_ += key_.size() + result.bytes.size() + 100;
  results_.emplace(key_, std::move(result));
}

void Memo::pack(const Places& places, const Frame& frame, std::string& out) {
  for (int32_t cell : places.ints) append(out, &frame.ints[index(cell)], 1);
  for (int32_t cell : places.reals) append(out, &frame.reals[index(cell)], 1);
  for (int32_t base : places.lists) append(out, &frame.ints[index(base)], index(frame.ints[index(base)] + 1));
}

void Memo::unpack(const Places& places, const std::string& from, Frame& frame) {
  const char* at = from.data();
  const auto take = [&at](void* to, size_t size) {
    std::memcpy(to, at, size);
    at += size;
  };
  for (int32_t cell : places.ints) take(&frame.ints[index(cell)], sizeof(int32_t));
  for (int32_t cell : places.reals) take(&frame.reals[index(cell)], sizeof(double));
  for (int32_t base : places.lists) {
    take(&frame.ints[index(base)], sizeof(int32_t));
    take(&frame.ints[index(base)] + 1, sizeof(int32_t) * index(frame.ints[index(base)]));
  }
}

}  // namespace basanos
