#include "memo.h"

#include <algorithm>
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

// Whole numbers that are small, as most are, take one byte.
constexpr uint8_t kLong = 255;
constexpr size_t kLongest = 1 + sizeof(int32_t);

void put_whole(uint8_t*& out, int32_t value) {
  if (static_cast<uint32_t>(value) < kLong) {
    *out++ = static_cast<uint8_t>(value);
    return;
  }
  *out++ = kLong;
  std::memcpy(out, &value, sizeof value);
  out += sizeof value;
}

int32_t take_whole(const uint8_t*& from) {
  if (*from != kLong) return *from++;
  int32_t value;
  std::memcpy(&value, from + 1, sizeof value);
  from += 1 + sizeof value;
  return value;
}

uint8_t* pack(const Memo::Places& places, const Frame& frame, uint8_t* out) {
  for (int32_t cell : places.ints) put_whole(out, frame.ints[index(cell)]);
  for (int32_t cell : places.reals) {
    std::memcpy(out, &frame.reals[index(cell)], sizeof(double));
    out += sizeof(double);
  }
  for (int32_t base : places.lists) {
    const int32_t* const list = &frame.ints[index(base)];
    for (int32_t k = 0; k <= list[0]; ++k) put_whole(out, list[k]);
  }
  return out;
}

void unpack(const Memo::Places& places, const uint8_t* from, Frame& frame) {
  for (int32_t cell : places.ints) frame.ints[index(cell)] = take_whole(from);
  for (int32_t cell : places.reals) {
    std::memcpy(&frame.reals[index(cell)], from, sizeof(double));
    from += sizeof(double);
  }
  for (int32_t base : places.lists) {
    int32_t* const list = &frame.ints[index(base)];
    list[0] = take_whole(from);
    for (int32_t k = 1; k <= list[0]; ++k) list[k] = take_whole(from);
  }
}

}  // namespace

uint64_t ByteIndex::hash_of(const uint8_t* key, size_t size) {
  uint64_t hash = size, word = 0;
  size_t at = 0;
  for (; at + sizeof word <= size; at += sizeof word) {
    std::memcpy(&word, key + at, sizeof word);
    hash = mix64(hash ^ word);
  }
  word = 0;
  std::memcpy(&word, key + at, size - at);
  return mix64(hash ^ word);
}

uint32_t ByteIndex::find(const uint8_t* key, size_t size) const {
  const uint64_t hash = hash_of(key, size);
  for (size_t slot = hash & (slots_.size() - 1);; slot = (slot + 1) & (slots_.size() - 1)) {
    const uint32_t number = slots_[slot];
    if (number == kNone) return kNone;
    const Entry& entry = entries_[number];
    if (entry.hash == hash && entry.size == size && std::memcmp(arena_.data() + entry.at, key, size) == 0) return number;
  }
}

uint32_t ByteIndex::add(const uint8_t* key, size_t size) {
  entries_.push_back({hash_of(key, size), arena_.size(), size});
  arena_.insert(arena_.end(), key, key + size);
  if (entries_.size() * 2 > slots_.size()) grow();
  else place(static_cast<uint32_t>(entries_.size() - 1));
  return static_cast<uint32_t>(entries_.size() - 1);
}

void ByteIndex::place(uint32_t number) {
  size_t slot = entries_[number].hash & (slots_.size() - 1);
  while (slots_[slot] != kNone) slot = (slot + 1) & (slots_.size() - 1);
  slots_[slot] = number;
}

void ByteIndex::grow() {
  slots_.assign(slots_.size() * 2, kNone);
  for (uint32_t number = 0; number < entries_.size(); ++number) place(number);
}

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
  std::vector<int32_t> room(p.int_start.size());
  for (const List& list : p.lists) room[index(list.base)] = list.room;
  const auto most_bytes = [&room](const Places& places) {
    size_t bytes = places.ints.size() * kLongest + places.reals.size() * sizeof(double);
    for (int32_t base : places.lists) bytes += (index(room[index(base)]) + 1) * kLongest;
    return bytes;
  };
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
    key_.resize(std::max(key_.size(), kLongest + most_bytes(region.reads)));
    made_.resize(std::max(made_.size(), most_bytes(region.writes)));
  }
}

bool Memo::recall(int32_t k, Frame& frame, int64_t& budget) {
  const Region& region = regions_[index(k)];
  wanted_ = -1;
  if (region.keep < 0) return false;
  uint8_t* end = key_.data();
  put_whole(end, k);
  end = pack(region.reads, frame, end);
  key_size_ = static_cast<size_t>(end - key_.data());
  const uint32_t found = known_.find(key_.data(), key_size_);
  if (found == ByteIndex::kNone) {
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
