// Damages programs and runs what the loader accepts, under the sanitizers: no program may lead a run out of bounds or
// on for ever. Guided by coverage: a damaged program that reaches new code is kept and damaged further.
//   loader FOLDER SECONDS [SEED]    FOLDER holds what tests/fuzz/programs.R writes
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>

#include "../../src/core/exact.h"
#include "../../src/core/sample.h"
#include "../../src/core/unit_rows.h"
#include "../../src/core/witness.h"

using namespace basanos;

// Called at every edge of the core, which is compiled with coverage; this file is not.
static uint8_t reached[1 << 16];
static size_t new_places = 0;
extern "C" void __sanitizer_cov_trace_pc() {
  const auto place = reinterpret_cast<uintptr_t>(__builtin_return_address(0)) & 0xFFFF;
  if (reached[place] == 0) {
    reached[place] = 1;
    ++new_places;
  }
}

namespace {

std::mt19937_64 random_bits;
int64_t below(int64_t n) { return static_cast<int64_t>(random_bits() % static_cast<uint64_t>(n)); }

template <class T, class Read>
std::vector<T> many(std::istream& in, Read read) {
  size_t n = 0;
  in >> n;
  std::vector<T> all;
  for (size_t k = 0; k < n; ++k) all.push_back(read());
  return all;
}

// What is told of seats that are alike, in the order of the file.
template <class Visit>
void each_numbers(SymmetryTable& a, Visit visit) {
  for (std::vector<int32_t>* numbers : {&a.arrays, &a.list_arrays, &a.regs, &a.plain_regs, &a.plain_lists, &a.outcomes})
    visit(*numbers);
}

Program read_program(const std::string& path) {
  std::ifstream in(path);
  Program p;
  const auto whole = [&in] { int32_t x = 0; in >> x; return x; };
  const auto real = [&in] { double x = 0; in >> x; return x; };
  p.code = many<Instr>(in, [&] { Instr i{}; in >> i.op >> i.a >> i.b >> i.c >> i.d >> i.at; return i; });
  p.int_start = many<int32_t>(in, whole);
  p.real_start = many<double>(in, real);
  p.arrays = many<Array>(in, [&] { Array a{}; in >> a.base >> a.first >> a.size >> a.real; return a; });
  p.lists = many<List>(in, [&] { List l{}; in >> l.base >> l.room; return l; });
  p.list_arrays = many<ListArray>(in, [&] { ListArray f{}; in >> f.list >> f.first >> f.size; return f; });
  p.words.start = many<int32_t>(in, whole);
  p.words.letters = many<int32_t>(in, whole);
  p.tables = many<Table>(in, [&] {
    Table t{};
    in >> t.first >> t.size;
    t.values = many<int32_t>(in, whole);
    return t;
  });
  p.weights = many<std::vector<double>>(in, [&] { return many<double>(in, real); });
  const int32_t sources = whole();
  for (int32_t k = 0; k < sources; ++k) p.sources.push_back("source " + std::to_string(k));
  p.outcome_register = whole();
  p.outcome_count = whole();
  const std::vector<int32_t> regs = many<int32_t>(in, whole);
  for (int32_t reg : regs) p.quantities.push_back({reg, false});
  for (Quantity& q : p.quantities) q.real = whole() != 0;
  p.symmetry.count = whole();
  if (p.symmetry.count > 0)
    each_numbers(p.symmetry, [&](std::vector<int32_t>& numbers) { numbers = many<int32_t>(in, whole); });
  return p;
}

// A number that is a little, or much, or wildly wrong.
int32_t wrong(int32_t x) {
  switch (below(6)) {
    case 0: return static_cast<int32_t>(static_cast<uint32_t>(x) + 1);
    case 1: return static_cast<int32_t>(static_cast<uint32_t>(x) - 1);
    case 2: return static_cast<int32_t>(below(40));
    case 3: return static_cast<int32_t>(random_bits());
    case 4: return below(2) != 0 ? INT32_MAX : INT32_MIN;
    default: return x == INT32_MIN ? 0 : -x;
  }
}

template <class T>
T& any_of(std::vector<T>& all) { return all[static_cast<size_t>(below(static_cast<int64_t>(all.size())))]; }

int32_t& operand(Instr& in) {
  switch (below(4)) {
    case 0: return in.a;
    case 1: return in.b;
    case 2: return in.c;
    default: return in.d;
  }
}

void damage(Program& p) {
  Instr& in = any_of(p.code);
  switch (below(16)) {
    case 0: case 1: case 2: operand(in) = wrong(operand(in)); break;
    case 3: case 4: operand(in) = operand(any_of(p.code)); break;
    case 5: in.op = static_cast<int32_t>(below(OP_COUNT + 1)); break;
    case 6: std::swap(in, any_of(p.code)); break;
    case 7: p.code.insert(p.code.begin() + below(static_cast<int64_t>(p.code.size())), any_of(p.code)); break;
    case 8: if (p.code.size() > 1) p.code.erase(p.code.begin() + below(static_cast<int64_t>(p.code.size()))); break;
    case 9: if (!p.int_start.empty()) { int32_t& x = any_of(p.int_start); x = wrong(x); } break;
    case 10:
      if (!p.real_start.empty()) any_of(p.real_start) = below(2) != 0 ? std::nan("") : static_cast<double>(wrong(7));
      break;
    case 11:
      if (!p.arrays.empty()) {
        Array& a = any_of(p.arrays);
        int32_t& x = below(2) != 0 ? a.base : below(2) != 0 ? a.first : a.size;
        x = wrong(x);
        if (below(9) == 0) a.real = !a.real;
      }
      break;
    case 12:
      if (!p.lists.empty()) {
        List& l = any_of(p.lists);
        int32_t& x = below(2) != 0 ? l.base : l.room;
        x = wrong(x);
      }
      break;
    case 13:
      if (!p.list_arrays.empty()) {
        ListArray& f = any_of(p.list_arrays);
        int32_t& x = below(2) != 0 ? f.list : below(2) != 0 ? f.first : f.size;
        x = wrong(x);
      }
      break;
    case 14:
      if (!p.tables.empty()) {
        Table& t = any_of(p.tables);
        if (below(2) != 0 && !t.values.empty()) {
          int32_t& x = any_of(t.values);
          x = wrong(x);
        } else {
          int32_t& x = below(2) != 0 ? t.first : t.size;
          x = wrong(x);
        }
      }
      break;
    default:
      switch (below(7)) {
        case 5:
          each_numbers(p.symmetry, [](std::vector<int32_t>& numbers) {
            if (!numbers.empty() && below(4) == 0) {
              int32_t& x = any_of(numbers);
              x = wrong(x);
            }
          });
          break;
        case 6: if (p.symmetry.count > 0) p.symmetry.count = wrong(p.symmetry.count) % 100; break;
        case 0: p.outcome_register = wrong(p.outcome_register); break;
        case 1: p.outcome_count = wrong(p.outcome_count) % 1000; break;
        case 2:
          if (!p.quantities.empty()) {
            Quantity& q = any_of(p.quantities);
            q.reg = wrong(q.reg);
            if (below(3) == 0) q.real = !q.real;
          }
          break;
        case 3:
          if (!p.weights.empty()) {
            std::vector<double>& w = any_of(p.weights);
            if (!w.empty()) any_of(w) = below(2) != 0 ? -1.0 : below(2) != 0 ? std::nan("") : 0.0;
          }
          break;
        default: if (!p.words.start.empty()) { int32_t& x = any_of(p.words.start); x = wrong(x); }
      }
  }
}

// Loads and runs; false where it is refused.
bool run_all(Program p) {
  p.step_budget = 3000;
  p.aliases.clear();
  try {
    for (const std::vector<double>& w : p.weights) {
      check_weights(w);
      p.aliases.emplace_back(w);
    }
    count_jumps_back(p);
    validate(p);
  } catch (const std::invalid_argument&) {
    return false;
  }
  const auto go_on = [](uint64_t) { return true; };
  ExactLimits limits;
  limits.states = 100;
  limits.steps = 20000;
  limits.draws = 30;
  limits.bytes = 50 << 20;
  try { sample(p, {1, 1, 20, 1}, go_on); } catch (const std::invalid_argument&) {}
  try { sample(p, {1, 1, 20, 1, nullptr, Caching::always}, go_on); } catch (const std::invalid_argument&) {}
  try { unit_rows(p, 2, 1, 3, go_on); } catch (const std::invalid_argument&) {}
  try { exact(p, limits, go_on); } catch (const std::invalid_argument&) {}
  find_reaches(p, 50, go_on);
  return true;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) return 2;
  const double seconds = std::atof(argv[2]);
  random_bits.seed(argc > 3 ? static_cast<uint64_t>(std::atoll(argv[3])) : 1);
  std::vector<Program> kept;
  for (const auto& file : std::filesystem::directory_iterator(argv[1])) kept.push_back(read_program(file.path()));
  for (const Program& p : kept)
    if (!run_all(p)) {
      std::printf("a sound program is refused\n");
      return 1;
    }
  const size_t sound = kept.size();
  const auto start = std::chrono::steady_clock::now();
  uint64_t tried = 0, accepted = 0;
  while (std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count() < seconds) {
    Program p = any_of(kept);
    for (int64_t k = 1 + below(4); k > 0; --k) damage(p);
    const size_t before = new_places;
    ++tried;
    if (run_all(p)) ++accepted;
    if (new_places > before && kept.size() < 5000) kept.push_back(std::move(p));
  }
  std::printf(
      "%zu sound programs; %llu damaged ones: %llu refused, %llu run; %zu kept for reaching new code, %zu places "
      "reached\n",
      sound, static_cast<unsigned long long>(tried), static_cast<unsigned long long>(tried - accepted),
      static_cast<unsigned long long>(accepted), kept.size() - sound, new_places);
  return 0;
}
