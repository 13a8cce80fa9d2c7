// Glue between R and the core: turns R lists into core values and back. No computation here.
#include <Rcpp.h>

#include <algorithm>
#include <chrono>
#include <memory>
#include <set>

#include "core/belief_graph.h"
#include "core/belief_search.h"
#include "core/best.h"
#include "core/equilibrium.h"
#include "core/decision_graph.h"
#include "core/exact.h"
#include "core/liveness.h"
#include "core/position.h"
#include "core/product.h"
#include "core/optimise.h"
#include "core/generate_c.h"
#include "core/sample.h"
#include "core/script.h"
#include "core/unit_rows.h"
#include "core/watch.h"
#include "core/witness.h"

using namespace basanos;
using Rcpp::_;

namespace {

template <class T>
T field(const Rcpp::List& list, const char* name) {
  return Rcpp::as<T>(list[name]);
}

std::vector<Quantity> quantities_from(const Rcpp::List& x, const char* reg, const char* real) {
  const Rcpp::IntegerVector regs = x[reg];
  const Rcpp::LogicalVector reals = x[real];
  std::vector<Quantity> out;
  for (int q = 0; q < regs.size(); ++q) out.push_back({regs[q], reals[q] != 0});
  return out;
}

Program program_from(const Rcpp::List& x) {
  Program p;
  const Rcpp::IntegerMatrix code = x["code"];  // six rows: op, four operands, place
  for (int i = 0; i < code.ncol(); ++i)
    p.code.push_back({code(0, i), code(1, i), code(2, i), code(3, i), code(4, i), code(5, i)});
  p.int_start = field<std::vector<int32_t>>(x, "int_start");
  p.real_start = field<std::vector<double>>(x, "real_start");
  const Rcpp::IntegerMatrix arrays = x["arrays"], lists = x["lists"], ranges = x["ranges"];
  for (int i = 0; i < arrays.ncol(); ++i)
    p.arrays.push_back({arrays(0, i), arrays(1, i), arrays(2, i), arrays(3, i) != 0});
  for (int i = 0; i < ranges.ncol(); ++i) p.ranges.push_back({ranges(0, i), static_cast<uint32_t>(ranges(1, i))});
  for (int i = 0; i < lists.ncol(); ++i) p.lists.push_back({lists(0, i), lists(1, i)});
  const Rcpp::IntegerMatrix list_arrays = x["list_arrays"];
  for (int i = 0; i < list_arrays.ncol(); ++i)
    p.list_arrays.push_back({list_arrays(0, i), list_arrays(1, i), list_arrays(2, i)});
  p.words.start = field<std::vector<int32_t>>(x, "word_start");
  p.words.letters = field<std::vector<int32_t>>(x, "word_letters");
  for (SEXP item : Rcpp::List(x["tables"])) {
    const Rcpp::List table(item);
    p.tables.push_back({field<int>(table, "first"), field<int>(table, "size"),
                        field<std::vector<int32_t>>(table, "values")});
  }
  for (SEXP item : Rcpp::List(x["weights"])) {
    p.weights.push_back(Rcpp::as<std::vector<double>>(item));
    check_weights(p.weights.back());
    p.aliases.emplace_back(p.weights.back());
  }
  p.sources = field<std::vector<std::string>>(x, "sources");
  p.outcome_register = field<int>(x, "outcome_register");
  p.outcome_count = Rcpp::as<Rcpp::CharacterVector>(x["outcomes"]).size();
  p.quantities = quantities_from(x, "quantity_register", "quantity_real");
  p.unit_quantities = quantities_from(x, "unit_quantity_register", "unit_quantity_real");
  p.coverage_count = field<int>(x, "coverage_count");
  if (x.containsElementNamed("sites")) for (SEXP item : Rcpp::List(x["sites"])) {
    const Rcpp::List site(item);
    p.sites.push_back({field<int>(site, "decision"), field<int>(site, "seat"), field<int>(site, "group"),
                       field<bool>(site, "several")});
  }
  if (x.containsElementNamed("symmetry") && !Rf_isNull(x["symmetry"])) {
    const Rcpp::List symmetry = x["symmetry"];
    const auto numbers = [&symmetry](const char* name) { return field<std::vector<int32_t>>(symmetry, name); };
    p.symmetry = {field<int>(symmetry, "count"), numbers("arrays"),      numbers("list_arrays"), numbers("registers"),
                  numbers("plain_registers"),    numbers("plain_lists"), numbers("outcomes")};
  }
  p.step_budget = static_cast<int64_t>(field<double>(x, "step_budget"));
  count_jumps_back(p);
  validate(p);
  return p;
}

// A program as the engines take it: loaded before, by core_load(), or a plain list that is loaded now.
class Given {
 public:
  Given(SEXP program) {  // NOLINT: each function below is called with either
    if (TYPEOF(program) == EXTPTRSXP) {
      loaded_ = static_cast<const Prepared*>(R_ExternalPtrAddr(program));
      if (loaded_ == nullptr) throw std::invalid_argument("broken program: it was loaded in another session");
      return;
    }
    own_ = std::make_unique<Prepared>(program_from(Rcpp::List(program)));
    loaded_ = own_.get();
  }
  operator const Prepared&() const { return *loaded_; }
  const Program& written() const { return loaded_->written; }
  const Program& ready() const { return loaded_->ready; }

 private:
  std::unique_ptr<Prepared> own_;
  const Prepared* loaded_ = nullptr;
};

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

void check_interrupt(void*) { R_CheckUserInterrupt(); }
bool interrupted() { return R_ToplevelExec(check_interrupt, nullptr) == FALSE; }

// Looks for Ctrl-C, and shows progress, a few times a second. `progress` may answer FALSE: then it is time to stop.
std::function<bool(uint64_t)> poll_with(const Rcpp::Nullable<Rcpp::Function>& progress) {
  return [progress, last = Clock::now()](uint64_t done) mutable {
    if (Clock::now() - last < std::chrono::milliseconds(100)) return true;
    last = Clock::now();
    if (progress.isNotNull()) {
      const Rcpp::RObject answer = Rcpp::Function(progress.get())(static_cast<double>(done));
      if (TYPEOF(answer) == LGLSXP && LENGTH(answer) == 1 && LOGICAL(answer)[0] == FALSE) return false;
    }
    return !interrupted();
  };
}

PlayUnits compiled_from(SEXP given) {
  return TYPEOF(given) == EXTPTRSXP ? reinterpret_cast<PlayUnits>(R_ExternalPtrAddrFn(given)) : nullptr;
}

// Asks, while a run goes on, for the program as native code. `offer` is told how many seconds the rest will take, by
// the pace since the first poll, and answers NULL (ask again), FALSE (there will be none), NA (stop the run) or the
// compiled function.
class NativeCode {
 public:
  NativeCode(SEXP offer, double units, double ask_after)
      : offer_(offer), units_(units), ask_after_(ask_after), play_(compiled_from(offer)) {
    over_ = Rf_isFunction(offer) == FALSE;
  }

  // False where the run is to stop.
  bool ask(uint64_t done) {
    if (over_) return true;
    if (!begun_) {
      begun_ = true;
      done_at_start_ = done;
      start_ = asked_ = Clock::now();
      return true;
    }
    const double took = seconds_since(start_);
    if (took < ask_after_ || done <= done_at_start_ || (answered_ && seconds_since(asked_) < 0.1)) return true;
    asked_ = Clock::now();
    answered_ = true;
    const double left = (units_ - static_cast<double>(done)) * took / static_cast<double>(done - done_at_start_);
    const Rcpp::RObject answer = Rcpp::Function(offer_)(left);
    play_ = compiled_from(answer);
    over_ = !answer.isNULL();
    return TYPEOF(answer) != LGLSXP || LOGICAL(answer)[0] != NA_LOGICAL;
  }

  const std::atomic<PlayUnits>* play() const { return &play_; }

 private:
  const SEXP offer_;
  const double units_, ask_after_;
  std::atomic<PlayUnits> play_;
  bool over_, begun_ = false, answered_ = false;
  uint64_t done_at_start_ = 0;
  Clock::time_point start_, asked_;
};

template <class Number>
Rcpp::List columns(const std::map<double, Number>& counts) {
  Rcpp::NumericVector value, weight;
  for (const auto& [v, w] : counts) {
    value.push_back(v);
    weight.push_back(static_cast<double>(w));
  }
  return Rcpp::List::create(_["value"] = value, _["weight"] = weight);
}

Rcpp::List draws_list(const std::vector<WitnessDraw>& draws) {
  Rcpp::IntegerVector source, value;
  for (const WitnessDraw& d : draws) {
    source.push_back(d.source);
    value.push_back(d.value);
  }
  return Rcpp::List::create(_["source"] = source, _["value"] = value);
}

// The answers at an open decision: whole numbers, or a list of such where an answer has several items.
SEXP offers_of(const Frame& frame, bool several) {
  Rcpp::IntegerVector values;
  Rcpp::List sets;
  for (size_t k = 0; k < frame.offers.count(); ++k) {
    const int32_t* const offer = frame.offers[k];
    if (several) sets.push_back(Rcpp::IntegerVector(offer + 1, offer + 1 + *offer));
    else values.push_back(*offer);
  }
  if (several) return sets;
  return values;
}

Rcpp::List failure_list(const Failure& f) {
  return Rcpp::List::create(_["fail"] = static_cast<int>(f.fail), _["info"] = f.info, _["at"] = f.at);
}

// The rounds played, for R.
Rcpp::List sample_list(const SampleResult& r) {
  Rcpp::List quantities, unit_quantities;
  for (const Histogram& h : r.tally.quantities) quantities.push_back(columns(h.counts()));
  for (const Histogram& h : r.tally.unit_quantities) unit_quantities.push_back(columns(h.counts()));
  Rcpp::NumericVector ss, sn;
  for (const Products& x : r.tally.products) {
    ss.push_back(static_cast<double>(x.ss) / (Products::kSteps * Products::kSteps));
    sn.push_back(static_cast<double>(x.sn) / Products::kSteps);
  }
  return Rcpp::List::create(
      _["units"] = static_cast<double>(r.tally.units), _["rounds"] = static_cast<double>(r.tally.rounds),
      _["squared_rounds"] = static_cast<double>(r.tally.squared_rounds), _["unit_quantities"] = unit_quantities,
      _["ss"] = ss, _["sn"] = sn, _["outcomes"] = Rcpp::NumericVector(r.tally.outcomes.begin(), r.tally.outcomes.end()),
      _["quantities"] = quantities, _["stopped"] = r.stopped, _["failure"] = failure_list(r.failure),
      _["failed_unit"] = static_cast<double>(r.failed_unit));
}

Rcpp::List counts_list(const Counts& counts) {
  Rcpp::List quantities, unit_quantities;
  for (const auto& q : counts.quantities) quantities.push_back(columns(q));
  for (const auto& q : counts.unit_quantities) unit_quantities.push_back(columns(q));
  return Rcpp::List::create(
      _["rounds"] = counts.rounds, _["unit_quantities"] = unit_quantities,
      _["outcomes"] = Rcpp::NumericVector(counts.outcomes.begin(), counts.outcomes.end()),
      _["quantities"] = quantities);
}

Objective objective_from(const Rcpp::List& x) {
  const auto terms = [](const Rcpp::NumericMatrix& rows) {
    std::vector<Objective::Term> out;
    for (int k = 0; k < rows.nrow(); ++k) out.push_back({static_cast<size_t>(rows(k, 0)), rows(k, 1), rows(k, 2)});
    return out;
  };
  return {field<std::vector<double>>(x, "by_outcome"), terms(x["of_round"]), terms(x["of_unit"])};
}

// What best play is asked for. `objective` and `opposed` (or NULL) are lists of `by_outcome`, and of `of_round` and
// `of_unit`, matrices with a quantity, counted from 0, its factor, and the value that it must have (or NA) in each row.
// `seats`: those that decide. `signs` by site: 1 where the objective is to be great, -1 where it is to be small.
// `range`: what a unit can be worth, or nothing. `cut`: an answer that ends with the most there can be rules out the
// others.
DecisionJob decision_job_from(const Rcpp::List& task) {
  DecisionJob job;
  job.objective = objective_from(task["objective"]);
  job.is_opposed = !Rf_isNull(task["opposed"]);
  if (job.is_opposed) job.opposed = objective_from(task["opposed"]);
  job.seats = field<std::vector<int32_t>>(task, "seats");
  job.signs = field<std::vector<double>>(task, "signs");
  const auto range = field<std::vector<double>>(task, "range");
  if (range.size() == 2) job.has_range = true, job.least = range[0], job.greatest = range[1];
  job.cut = field<bool>(task, "cut");
  job.states = static_cast<uint64_t>(field<double>(task, "states"));
  job.bytes = static_cast<uint64_t>(field<double>(task, "bytes"));
  job.seconds = field<double>(task, "seconds");
  return job;
}

const char* end_word(GraphEnd end) {
  static const char* const words[] = {"done", "states", "memory", "time", "stopped", "unopposed"};
  return words[static_cast<int>(end)];
}

Rcpp::NumericVector ends_of(const Bounds& b) { return Rcpp::NumericVector::create(b.lower, b.upper); }

// The answers of a decision with their worths, and what is shown there. A decision that was cut has one worth: that of
// the answer `followed`, counted from 1.
Rcpp::List situation_list(const ProgramModel& model, int site, double reach, const std::vector<Bounds>& worths,
                          int followed, const std::vector<double>& shares) {
  Rcpp::NumericVector lower, upper;
  for (const Bounds& b : worths) {
    lower.push_back(b.lower);
    upper.push_back(b.upper);
  }
  Rcpp::List shown;
  for (const Shown& each : model.frame.shown) shown.push_back(each.values);
  return Rcpp::List::create(
      _["site"] = site + 1, _["reach"] = reach, _["lower"] = lower, _["upper"] = upper, _["followed"] = followed,
      _["shares"] = shares, _["shown"] = shown,
      _["offers"] = offers_of(model.frame, model.program.sites[static_cast<size_t>(site)].several));
}

// Situations with what to do in them and what each answer is worth, one under another, by site.
class PolicyTable {
 public:
  explicit PolicyTable(size_t sites) : sites_(sites) {}

  void add(const ProgramModel& model, int site, double reach, const std::vector<double>& shares,
           const std::vector<Bounds>& worths) {
    Rows& rows = sites_[static_cast<size_t>(site)];
    const Frame& frame = model.frame;
    rows.things.resize(frame.shown.size());
    for (size_t k = 0; k < frame.shown.size(); ++k) rows.things[k].add(frame.shown[k].values);
    const bool several = model.program.sites[static_cast<size_t>(site)].several;
    for (size_t k = 0; k < frame.offers.count(); ++k) {
      const int32_t* const offer = frame.offers[k];
      const int32_t* const items = several ? offer + 1 : offer;
      rows.answers.add(std::vector<double>(items, items + (several ? *offer : 1)));
      rows.row.push_back(static_cast<int>(rows.reach.size() + 1));
      rows.share.push_back(k < shares.size() ? shares[k] : 0);
      rows.worth.push_back(k < worths.size() ? worths[k].middle() : NA_REAL);
    }
    rows.reach.push_back(reach);
  }

  Rcpp::List list() const {
    Rcpp::List all;
    for (const Rows& rows : sites_) {
      Rcpp::List things;
      for (const Values& thing : rows.things) things.push_back(thing.list());
      all.push_back(Rcpp::List::create(_["things"] = things, _["reach"] = rows.reach, _["row"] = rows.row,
                                       _["share"] = rows.share, _["worth"] = rows.worth,
                                       _["answers"] = rows.answers.list()));
    }
    return all;
  }

 private:
  // Lists of numbers, one behind another.
  struct Values {
    std::vector<double> values;
    std::vector<int> sizes;
    void add(const std::vector<double>& more) {
      values.insert(values.end(), more.begin(), more.end());
      sizes.push_back(static_cast<int>(more.size()));
    }
    Rcpp::List list() const { return Rcpp::List::create(_["values"] = values, _["sizes"] = sizes); }
  };
  struct Rows {
    std::vector<Values> things;
    std::vector<double> reach;
    std::vector<int> row;  // of each answer
    std::vector<double> share, worth;
    Values answers;
  };
  std::vector<Rows> sites_;
};

Rcpp::NumericMatrix uses_matrix(const std::vector<SiteUse>& uses) {
  Rcpp::NumericMatrix all(4, static_cast<int>(uses.size()));
  for (int k = 0; k < all.ncol(); ++k) {
    const SiteUse& use = uses[static_cast<size_t>(k)];
    all(0, k) = use.met, all(1, k) = use.matters, all(2, k) = use.to_next, all(3, k) = use.to_worst;
  }
  return all;
}

}  // namespace

// [[Rcpp::export]]
Rcpp::DataFrame core_ops() {
  Rcpp::CharacterVector name, roles;
  for (int op = 0; op < OP_COUNT; ++op) {
    name.push_back(op_info(op).name);
    roles.push_back(op_info(op).roles);
  }
  return Rcpp::DataFrame::create(_["name"] = name, _["roles"] = roles);
}

// Checks a program, and makes what the engines run of it, once for as many calls as there are.
// [[Rcpp::export]]
SEXP core_load(Rcpp::List program, bool optimise = true) {
  return Rcpp::XPtr<Prepared>(new Prepared(program_from(program), optimise ? Optimise::yes : Optimise::no));
}

// Is it loaded in this session?
// [[Rcpp::export]]
bool core_is_loaded(SEXP handle) { return TYPEOF(handle) == EXTPTRSXP && R_ExternalPtrAddr(handle) != nullptr; }

// The program as the engines run it.
// [[Rcpp::export]]
Rcpp::List core_optimised(Rcpp::List program) {
  const Program p = optimised(program_from(program));
  Rcpp::IntegerMatrix code(6, static_cast<int>(p.code.size()));
  for (int i = 0; i < code.ncol(); ++i) {
    const Instr& in = p.code[static_cast<size_t>(i)];
    for (int k = 0; k < 4; ++k) code(k + 1, i) = in.operand(k);
    code(0, i) = in.op;
    code(5, i) = in.at;
  }
  Rcpp::List tables;
  for (const Table& t : p.tables)
    tables.push_back(Rcpp::List::create(_["first"] = t.first, _["size"] = t.size, _["values"] = t.values));
  Rcpp::List shorter = Rcpp::clone(program);
  shorter["code"] = code;
  shorter["tables"] = tables;
  shorter["int_start"] = p.int_start;
  Rcpp::IntegerMatrix ranges(2, static_cast<int>(p.ranges.size()));
  for (int i = 0; i < ranges.ncol(); ++i) {
    ranges(0, i) = p.ranges[static_cast<size_t>(i)].low;
    ranges(1, i) = static_cast<int>(p.ranges[static_cast<size_t>(i)].count);
  }
  shorter["ranges"] = ranges;
  return shorter;
}

// The program printed as C.
// [[Rcpp::export]]
std::string core_generated_c(SEXP program) { return generated_c(Given(program).ready()); }

// `compiled` is the compiled function of core_generated_c(), or a function that offers it: see NativeCode.
// `caching`: whether units are played through the transition cache, 0 never, 1 where it pays, 2 always.
// [[Rcpp::export]]
Rcpp::List core_sample(SEXP program, double seed, double first, double last, int threads,
                       Rcpp::Nullable<Rcpp::Function> progress, Rcpp::RObject compiled = R_NilValue, int caching = 1,
                       double ask_after = 0.1) {
  const Given given(program);
  NativeCode native(compiled, last - first + 1, ask_after);
  const SampleJob job{
      static_cast<uint64_t>(seed),  static_cast<uint64_t>(first), static_cast<uint64_t>(last), threads, native.play(),
      static_cast<Caching>(caching)};
  const SampleResult r = sample(given, job, [&native, look = poll_with(progress)](uint64_t done) mutable {
    return native.ask(done) && look(done);
  });
  return sample_list(r);
}

// Units from the position on at which the program says TRACE, once in each of `lanes`, or once where that is empty;
// `complete` is false where the ways to it are too many. `required`: what registers hold there, each a list of `place`
// (0 a number, 1 a list, 2 a bag), `at` and `values`.
// [[Rcpp::export]]
Rcpp::List core_from_position(SEXP program, double seed, double first, double last,
                              Rcpp::Nullable<Rcpp::Function> progress, Rcpp::List required,
                              std::vector<int> lanes) {
  PositionJob job;
  job.lanes = std::move(lanes);
  job.seed = static_cast<uint64_t>(seed);
  job.first = static_cast<uint64_t>(first);
  job.last = static_cast<uint64_t>(last);
  for (Rcpp::List item : required)
    job.required.push_back({static_cast<Place>(Rcpp::as<int>(item["place"])), Rcpp::as<int32_t>(item["at"]),
                            Rcpp::as<std::vector<int32_t>>(item["values"])});
  const PositionResult r = sample_from_position(Given(program), job, poll_with(progress));
  Rcpp::List played;
  for (const SampleResult& each : r.played) played.push_back(sample_list(each));
  return Rcpp::List::create(_["complete"] = r.complete, _["share"] = r.share,
                            _["ways"] = static_cast<double>(r.ways), _["played"] = played);
}

// [[Rcpp::export]]
Rcpp::List core_exact(SEXP program, double max_states, Rcpp::Nullable<Rcpp::Function> progress, double max_steps = 1e18,
                      double max_seconds = 1e300, Rcpp::Nullable<Rcpp::IntegerMatrix> groups = R_NilValue,
                      double max_frontier = 0, bool merge_kinds = true, bool leave_out_sums = true,
                      Rcpp::Nullable<Rcpp::LogicalVector> defer = R_NilValue) {
  static const char* const limit_words[] = {"", "states", "memory", "steps", "time"};
  ExactLimits limits;
  limits.states = static_cast<uint64_t>(max_states);
  limits.frontier = static_cast<uint64_t>(max_frontier);
  limits.steps = static_cast<uint64_t>(max_steps);
  limits.seconds = max_seconds;
  limits.merge_kinds = merge_kinds;
  limits.leave_out_sums = leave_out_sums;
  if (defer.isNotNull())
    limits.defer = Rcpp::as<bool>(defer.get()) ? ExactLimits::Defer::always : ExactLimits::Defer::never;
  std::vector<RegisterGroup> regs;
  if (groups.isNotNull()) {
    const Rcpp::IntegerMatrix given(groups.get());
    for (int i = 0; i < given.ncol(); ++i) regs.push_back({given(0, i), given(1, i)});
  }
  const ExactResult r = exact(Given(program), limits, poll_with(progress), regs);
  Rcpp::List lanes, all = counts_list(r);
  for (const Counts& lane : r.lanes) lanes.push_back(counts_list(lane));
  const Rcpp::List beside = Rcpp::List::create(
      _["end"] = static_cast<int>(r.end), _["lanes"] = lanes, _["states"] = static_cast<double>(r.states),
      _["residual"] = r.residual,
      _["values"] = std::vector<double>(r.values.begin(), r.values.end()),
      _["kinds"] = Rcpp::IntegerVector::create(_["from"] = r.kinds.from, _["to"] = r.kinds.to),
      _["sums"] = static_cast<double>(r.sums_left_out), _["deferred"] = static_cast<double>(r.draws_deferred),
      _["limit"] = limit_words[static_cast<int>(r.limit)], _["failure"] = failure_list(r.failure),
      _["failure_weight"] = r.failure_weight);
  const Rcpp::CharacterVector names = beside.names();
  for (R_xlen_t k = 0; k < beside.size(); ++k) all[std::string(names[k])] = beside[k];
  return all;
}

// Best play, as decision_job_from() says. `worst`: the worst play as well. `hidden`: the seat sees only what the
// program shows it. `most`: so many situations are told, those that play comes to most often. `everywhere`: what to do
// in every situation, too.
// [[Rcpp::export]]
Rcpp::List core_best(SEXP program, Rcpp::List task, bool worst, bool hidden, double most, bool everywhere,
                     Rcpp::Nullable<Rcpp::Function> progress) {
  const DecisionJob job = decision_job_from(task);
  const std::unique_ptr<PlayGraph> built = hidden
      ? std::unique_ptr<PlayGraph>(std::make_unique<BeliefGraph>(Given(program), job))
      : std::unique_ptr<PlayGraph>(std::make_unique<DecisionGraph>(Given(program), job));
  PlayGraph& graph = *built;
  const std::function<bool(uint64_t)> poll = poll_with(progress);
  const GraphEnd end = graph.build(poll);
  Rcpp::List told = Rcpp::List::create(
      _["end"] = end_word(end), _["states"] = static_cast<double>(graph.visited()),
      _["edges"] = static_cast<double>(graph.edges()), _["sums"] = static_cast<double>(graph.sums_left_out()),
      _["cut"] = graph.is_cut());
  if (end == GraphEnd::unopposed || end == GraphEnd::stopped) return told;
  const auto go_on = [&poll, &graph] { return poll(graph.visited()); };
  BestPlay best(graph);
  const auto solved = [&](bool badly, const char* name) {
    if (best.solve(go_on, badly)) told.push_back(ends_of(best.at_start()), name);
    else told["end"] = "stopped";
    return !best.fails();
  };
  if (worst && !graph.is_cut()) solved(true, "worst");
  const bool can_go_on = solved(false, "value");
  if (std::string(Rcpp::as<const char*>(told["end"])) == "stopped") return told;
  told.push_back(best.goes_round(), "goes_round");
  if (!can_go_on) {
    told.push_back(failure_list(graph.failure()), "failure");
    return told;
  }
  best.follow();
  told.push_back(uses_matrix(best.uses()), "uses");
  Rcpp::List situations;
  for (const Situation& s : best.situations(static_cast<size_t>(most)))
    situations.push_back(situation_list(graph.stand_at_answers(s.node), graph.site(s.node), s.reach, s.worths,
                                        graph.cut_to(s.node) + 1, s.shares));
  told.push_back(situations, "situations");
  if (everywhere) {
    PolicyTable table(job.signs.size());
    best.each_situation([&](const Situation& s) {
      table.add(graph.stand_at_answers(s.node), graph.site(s.node), s.reach, s.shares, s.worths);
    });
    told.push_back(table.list(), "policy");
  }
  return told;
}

// Best play of one seat that does not see everything, by branch and bound, where nothing is drawn after its first
// decision; `worst`: by the worst that chance can bring. `fits` is false where it cannot be found so.
// [[Rcpp::export]]
Rcpp::List core_search(SEXP program, Rcpp::List task, bool worst, Rcpp::Nullable<Rcpp::Function> progress) {
  BeliefSearch search(Given(program), decision_job_from(task), worst ? Aim::worst : Aim::mean,
                      LaterDraws::refused);
  const GraphEnd end = search.search(poll_with(progress));
  Rcpp::List told = Rcpp::List::create(
      _["end"] = end_word(end), _["fits"] = search.fits(), _["states"] = static_cast<double>(search.situations()),
      _["edges"] = static_cast<double>(search.visited()), _["sums"] = static_cast<double>(search.sums_left_out()));
  if (!search.fits()) return told;
  told.push_back(ends_of(search.value()), "value");
  if (!search.firsts().empty())
    told.push_back(situation_list(search.stand_at_first(), search.first_site(), 1, search.firsts(), 0, {}), "first");
  return told;
}

// Best play of two seats that hide something from each other. The search ends when the bounds differ by at most `gap`
// times the scale of the payoffs, or after so many `sweeps`.
// [[Rcpp::export]]
Rcpp::List core_equilibrium(SEXP program, Rcpp::List task, double gap, double sweeps, double most, bool everywhere,
                            Rcpp::Nullable<Rcpp::Function> progress) {
  GameTree tree(Given(program), decision_job_from(task));
  const std::function<bool(uint64_t)> poll = poll_with(progress);
  const GraphEnd end = tree.build(poll);
  Rcpp::List told = Rcpp::List::create(
      _["end"] = end_word(end), _["states"] = static_cast<double>(tree.visited()),
      _["edges"] = static_cast<double>(tree.payoffs().size()), _["sums"] = static_cast<double>(tree.sums_left_out()),
      _["histories"] = static_cast<double>(tree.histories()));
  if (end != GraphEnd::done) return told;
  Equilibrium play(tree);
  if (play.fails()) {
    told.push_back(failure_list(tree.failure()), "failure");
    return told;
  }
  if (!play.solve([&] { return poll(tree.visited()); }, gap, static_cast<size_t>(sweeps),
                  tree.job().seconds)) {
    told["end"] = "stopped";
    return told;
  }
  told.push_back(ends_of(play.value()), "value");
  told.push_back(static_cast<double>(play.sweeps()), "sweeps");
  told.push_back(uses_matrix(play.uses()), "uses");
  Rcpp::List situations;
  for (const Equilibrium::Mix& mix : play.mixes(static_cast<size_t>(most)))
    situations.push_back(situation_list(tree.stand_at_answers(mix.seat, mix.knowledge), mix.site, mix.reach,
                                        mix.worths, 0, mix.shares));
  told.push_back(situations, "situations");
  if (everywhere) {
    PolicyTable table(tree.job().signs.size());
    for (const Equilibrium::Mix& mix : play.all_mixes())
      table.add(tree.stand_at_answers(mix.seat, mix.knowledge), mix.site, mix.reach, mix.shares, mix.worths);
    told.push_back(table.list(), "policy");
  }
  return told;
}

// The registers that still matter at each open decision, without sums that only grow: a list by site of `ints` and
// `reals`, counted from 0.
// [[Rcpp::export]]
Rcpp::List core_alive(SEXP program) {
  const Given given(program);
  const Program& p = given.ready();
  const std::vector<LiveRegisters> alive = Liveness(p).at_stops();
  std::vector<std::set<int>> ints(p.sites.size()), reals(p.sites.size());
  for (size_t i = 0; i < p.code.size(); ++i) {
    if (p.code[i].op != OP_OPEN) continue;
    const auto site = static_cast<size_t>(p.code[i].a);
    ints[site].insert(alive[i].ints.begin(), alive[i].ints.end());
    reals[site].insert(alive[i].reals.begin(), alive[i].reals.end());
    for (const List& list : alive[i].lists)
      for (int32_t k = 0; k <= list.room; ++k) ints[site].insert(list.base + k);
  }
  for (const AdditiveRecord& record : additive_records(p))
    for (std::set<int>& of_site : ints) of_site.erase(record.reg);
  Rcpp::List all;
  for (size_t k = 0; k < ints.size(); ++k)
    all.push_back(Rcpp::List::create(_["ints"] = std::vector<int>(ints[k].begin(), ints[k].end()),
                                     _["reals"] = std::vector<int>(reals[k].begin(), reals[k].end())));
  return all;
}

// [[Rcpp::export]]
Rcpp::List core_script(SEXP program, Rcpp::List draws, Rcpp::List answers, std::vector<bool> answered,
                       std::vector<int> ask_decisions, std::vector<bool> ask_several, bool stop_when_out, int closing) {
  Script script;
  for (SEXP item : draws) script.draws.push_back(Rcpp::as<std::vector<int32_t>>(item));
  for (SEXP item : answers) script.answers.push_back(Rcpp::as<std::vector<int32_t>>(item));
  script.answered = answered;
  for (size_t k = 0; k < ask_decisions.size(); ++k) script.asks.push_back({ask_decisions[k], ask_several[k]});
  script.stop_when_out = stop_when_out;
  script.closing = closing;
  const Given given(program);
  const ScriptResult r = play_script(given.written(), script);
  return Rcpp::List::create(_["end"] = static_cast<int>(r.end), _["failure"] = failure_list(r.failure), _["at"] = r.at,
                            _["which"] = r.which, _["value"] = r.value, _["draws_used"] = r.draws_used,
                            _["answers_used"] = r.answers_used, _["ints"] = r.ints, _["reals"] = r.reals,
                            _["covered"] = std::vector<int>(r.covered.begin(), r.covered.end()));
}

// `watcher` is called with what is seen, the registers and the answers of an open decision, and gives back NULL, an
// answer, or FALSE to stop.
// [[Rcpp::export]]
Rcpp::List core_watch(SEXP program, double seed, double unit, bool ask_again, Rcpp::Function watcher) {
  static const char* const words[] = {"draw", "ask", "decision", "trace", "round", "end", "failed"};
  const Given given(program);
  const std::vector<Site>& sites = given.written().sites;
  const Watcher ask = [&watcher, &sites](const Sight& s, const Frame& f, std::vector<int32_t>& answer) {
    const Rcpp::RObject got = watcher(words[static_cast<int>(s.what)], s.which, s.value, s.at, f.ints, f.reals,
                                      s.what != Seen::decision
                                          ? R_NilValue
                                          : offers_of(f, sites[static_cast<size_t>(s.which)].several));
    if (got.isNULL()) return true;
    if (got.sexp_type() == LGLSXP) return false;
    answer = Rcpp::as<std::vector<int32_t>>(got);
    return true;
  };
  const WatchResult r =
      watch(given.written(), static_cast<uint64_t>(seed), static_cast<uint64_t>(unit), ask_again, ask);
  return Rcpp::List::create(_["end"] = static_cast<int>(r.end), _["failure"] = failure_list(r.failure));
}

// The shortest unit that ends in one of the outcomes, or (with `quantity`, counted from 0) in which that
// quantity is not 0, or (with `failure`) that fails with that code.
// [[Rcpp::export]]
Rcpp::List core_witness(SEXP program, double max_states, std::vector<int> outcomes, int quantity, int failure,
                        Rcpp::Nullable<Rcpp::Function> progress = R_NilValue) {
  const Sought sought = [&](const Program& p, const Frame& f, bool failed) {
    if (failed) return failure > 0 && f.fail == failure;
    if (quantity >= 0) {
      const Quantity& q = p.quantities[static_cast<size_t>(quantity)];
      const auto reg = static_cast<size_t>(q.reg);
      return q.real ? f.reals[reg] != 0 : f.ints[reg] != 0;
    }
    const int32_t outcome = f.ints[static_cast<size_t>(p.outcome_register)];
    return std::find(outcomes.begin(), outcomes.end(), outcome) != outcomes.end();
  };
  const WitnessResult r =
      find_witness(Given(program), static_cast<uint64_t>(max_states), sought, poll_with(progress));
  Rcpp::List found = draws_list(r.draws);
  found["end"] = static_cast<int>(r.end);
  return found;
}

// The fewest draws that lead to each place that a COVER tells of, NULL where none were found; and whether every
// state was gone through. Or the first sampled unit that gets there, 0 where none does, nothing where it was stopped.
// [[Rcpp::export]]
Rcpp::List core_reaches(SEXP program, double max_states, Rcpp::Nullable<Rcpp::Function> progress = R_NilValue) {
  const ReachResult r =
      find_reaches(Given(program), static_cast<uint64_t>(max_states), poll_with(progress));
  Rcpp::List places(static_cast<R_xlen_t>(r.places.size()));
  for (size_t k = 0; k < r.places.size(); ++k)
    if (r.places[k].found) places[static_cast<R_xlen_t>(k)] = draws_list(r.places[k].draws);
  return Rcpp::List::create(_["all_seen"] = r.all_seen, _["stopped"] = r.stopped, _["places"] = places);
}

// [[Rcpp::export]]
Rcpp::NumericVector core_first_reaching(SEXP program, double seed, double units,
                                        Rcpp::Nullable<Rcpp::Function> progress = R_NilValue) {
  const Given given(program);
  const std::vector<uint64_t> first =
      first_reaching(given.written(), static_cast<uint64_t>(seed), static_cast<uint64_t>(units), poll_with(progress));
  return Rcpp::NumericVector(first.begin(), first.end());
}

// A matrix with a row for each unit: see UnitRows. With the failure of the unit after the last row.
// [[Rcpp::export]]
Rcpp::List core_units(SEXP program, double seed, double first, double last,
                      Rcpp::Nullable<Rcpp::Function> progress = R_NilValue) {
  const UnitRows r = unit_rows(Given(program), static_cast<uint64_t>(seed), static_cast<uint64_t>(first),
                               static_cast<uint64_t>(last), poll_with(progress));
  Rcpp::NumericMatrix rows(static_cast<int>(r.values.size() / r.columns), static_cast<int>(r.columns));
  for (int i = 0; i < rows.nrow(); ++i)
    for (int j = 0; j < rows.ncol(); ++j)
      rows(i, j) = r.values[static_cast<size_t>(i) * r.columns + static_cast<size_t>(j)];
  return Rcpp::List::create(_["rows"] = rows, _["failure"] = failure_list(r.failure), _["stopped"] = r.stopped,
                            _["steps"] = static_cast<double>(r.steps));
}

// Two programs on every branch of chance. `sources` and `outcomes` give for each of the first that of the second;
// `quantities` has two rows, the places of those that must be equal.
// [[Rcpp::export]]
Rcpp::List core_product(SEXP first, SEXP second, std::vector<int> outcomes, std::vector<int> sources,
                        Rcpp::IntegerMatrix quantities, double max_states,
                        Rcpp::Nullable<Rcpp::Function> progress = R_NilValue) {
  static const char* const words[] = {"none", "draw", "round", "failure", "too_many_states", "stopped"};
  const Given a(first), b(second);
  Matching matching{outcomes, sources, {}};
  for (int q = 0; q < quantities.ncol(); ++q) matching.quantities.push_back({quantities(0, q), quantities(1, q)});
  const ProductResult r =
      explore_product(a, b, matching, static_cast<uint64_t>(max_states), poll_with(progress));
  Rcpp::List found = draws_list(r.draws);
  found["parting"] = words[static_cast<int>(r.parting)];
  found["states"] = static_cast<double>(r.states);
  return found;
}
