// The generator's streams as they are used, as raw 32-bit words on standard output, for a battery of tests; the
// seed, 1 unless given, comes last.
//   streams first    the first draw of successive units of one source
//   streams eight    the first eight draws of each successive unit
//   streams sources  the first draw of each of 16 sources, unit by unit
//   streams seeds    the first draw of unit 1 for successive seeds, from the given one on
#include <cstdio>
#include <cstdlib>
#include <cstring>

#include "../src/core/random.h"

using namespace basanos;

namespace {

constexpr size_t kWords = 1 << 14;
uint32_t buffer[kWords];
size_t filled = 0;

bool put(uint64_t draw) {
  buffer[filled++] = static_cast<uint32_t>(draw >> 32);  // what uniform_below goes by first
  if (filled < kWords) return true;
  filled = 0;
  return std::fwrite(buffer, sizeof buffer, 1, stdout) == 1;
}

bool draws(uint64_t key, uint64_t unit, int many) {
  uint64_t stream = stream_start(key, unit);
  for (int k = 0; k < many; ++k)
    if (!put(next_u64(&stream))) return false;
  return true;
}

}  // namespace

int main(int argc, char** argv) {
  const char* const how = argc > 1 ? argv[1] : "first";
  const uint64_t seed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
  const uint64_t cube = source_key(seed, "cube");
  std::vector<uint64_t> keys;
  for (int k = 0; k < 16; ++k) keys.push_back(source_key(seed, "die_" + std::to_string(k)));
  for (uint64_t unit = 1;; ++unit) {
    bool more = true;
    if (std::strcmp(how, "eight") == 0) more = draws(cube, unit, 8);
    else if (std::strcmp(how, "sources") == 0) {
      for (uint64_t key : keys) more = more && draws(key, unit, 1);
    } else if (std::strcmp(how, "seeds") == 0) more = draws(source_key(seed + unit - 1, "cube"), 1, 1);
    else more = draws(cube, unit, 1);
    if (!more) return 0;  // who reads has enough
  }
}
