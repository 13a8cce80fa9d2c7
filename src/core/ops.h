// The table of operations: the name and the role of each operand. The interpreter, the liveness analysis, the
// loader's checks and the R emitter all read it.
//
// Roles: i/I/U an int register written/read/both, d/D a real register written/read,
//        A array read, W array written in part, B array read and written in part, X array overwritten,
//        L list read, M list changed, N list overwritten, F array of lists read, G array of lists written in part,
//        S random source, R range of a draw, T lookup table, V weight table, J jump target, K a plain number,
//        '-' unused.
//
// A new operation goes to the end: a program's hash, which kept rounds and tallies name it by, has their numbers.
#pragma once

#define BASANOS_OPS(X)                                                                \
  X(MOV, "iI--") X(ADD, "iII-") X(SUB, "iII-") X(MUL, "iII-") X(NEG, "iI--")          \
  X(IDIV, "iII-") X(IMOD, "iII-") X(IMIN, "iII-") X(IMAX, "iII-") X(IABS, "iI--")     \
  X(EQ, "iII-") X(NE, "iII-") X(LT, "iII-") X(LE, "iII-") X(NOT, "iI--")              \
  X(DMOV, "dD--") X(DADD, "dDD-") X(DSUB, "dDD-") X(DMUL, "dDD-") X(DDIV, "dDD-")     \
  X(DPOW, "dDD-") X(DNEG, "dD--") X(DABS, "dD--") X(DMIN, "dDD-") X(DMAX, "dDD-")     \
  X(DEQ, "iDD-") X(DNE, "iDD-") X(DLT, "iDD-") X(DLE, "iDD-")                         \
  X(TOREAL, "dI--") X(FLOOR, "iD--") X(CEIL, "iD--") X(ROUND, "iD--")                 \
  X(DLOG, "dD--") X(DEXP, "dD--") X(DSQRT, "dD--")                                    \
  X(ADDLT, "UIII") X(ADDLE, "UIII") X(SEL, "iIII") X(WHO, "UII-")                     \
  X(JMP, "J---") X(LOOP, "J---") X(JZ, "IJ--") X(JNZ, "IJ--")                         \
  X(JEQ, "IIJ-") X(JNE, "IIJ-") X(JLT, "IIJ-") X(JLE, "IIJ-")                         \
  X(LOOPLT, "IIJ-") X(LOOPLE, "IIJ-") X(FORLE, "UIJ-") X(LOOPSUMLT, "IIIJ")           \
  X(LDX, "iIA-") X(STX, "IWI-") X(DLDX, "dIA-") X(DSTX, "IWD-")                       \
  X(TAB, "iIT-") X(TAB2, "iIIT")                                                      \
  X(LSIZE, "iL--") X(LCLEAR, "N---") X(LPUT, "MI--") X(BPUT, "MI--")                  \
  X(LREMOVE, "MI--") X(LGET, "iIL-") X(LCOPY, "NL--") X(LAPPEND, "ML--")              \
  X(BAPPEND, "ML--") X(LSAME, "iLL-") X(LGROUPS, "NL--") X(LRUN, "iL--")              \
  X(LHAS, "iIL-") X(LCOUNT, "iIL-") X(LSUM, "iL--") X(LMAX, "iL--") X(LMIN, "iL--")   \
  X(LWITHIN, "iLL-") X(SUBSET, "UNL-") X(LCOMMON, "NL--") X(LFROM, "NIF-")            \
  X(LINTO, "IGL-") X(LPART, "iLLK")                                                   \
  X(ASUM, "iA--") X(ATAB, "XT--") X(ATAKE, "BI--") X(ATAKEALL, "BL--")                \
  X(WLETTERS, "NI--") X(WHIDE, "NIL-") X(WHAS, "iII-") X(WMARK, "iIIK")               \
  X(MARKS, "iIK-")                                                                    \
  X(DRAW, "iSII") X(DRAWW, "iSV-") X(DRAWP, "iSD-") X(DRAWADD, "USII")                \
  X(DRAWCNT, "USRU")                                                                  \
  X(DEAL, "iSB-") X(DRAWL, "iSL-") X(DRAWN, "iSID")                                   \
  X(TALLY, "----") X(COVER, "K---") X(MEMO, "K---") X(STORE, "K---") X(TRACE, "K---") \
  X(ASK, "KIKJ") X(FAIL, "KK--") X(END, "----")                                       \
  X(LHIGH, "NLIK") X(LDROP, "MI--")                                                   \
  X(OPEN, "K---") X(OFFER, "I---") X(OFFERR, "II--") X(OFFERL, "L---")                \
  X(OFFERSET, "L---") X(DECIDE, "iK--") X(DECIDESET, "NK--")                          \
  X(LANE, "iIK-") X(SEE, "KI--") X(SEER, "KD--") X(SEEL, "KL--")                       \
  X(DEFER, "NSII") X(SPLIT, "iM--")

#include <basanos/operations.h>

namespace basanos {

enum Op : int {
#define BASANOS_OP_ENUM(name, roles) OP_##name,
  BASANOS_OPS(BASANOS_OP_ENUM)
#undef BASANOS_OP_ENUM
  OP_COUNT
};

struct OpInfo {
  const char* name;
  const char* roles;
};

inline const OpInfo& op_info(int op) {
  static const OpInfo table[] = {
#define BASANOS_OP_INFO(name, roles) {#name, roles},
      BASANOS_OPS(BASANOS_OP_INFO)
#undef BASANOS_OP_INFO
  };
  return table[op];
}

// Operations at which chance decides: the exact engine stops here and branches.
inline bool is_chance(int op) {
  switch (op) {
    case OP_DRAW: case OP_DRAWW: case OP_DRAWP: case OP_DRAWADD: case OP_DRAWCNT: case OP_DEAL: case OP_DRAWL:
    case OP_DRAWN: return true;
    default: return false;
  }
}

// LANE a, b, n: what follows is looked into n times over, once in each lane from 1 to n, all with the whole weight.
// A program with a lane in b is of that lane alone; where b is 0, exact follows all of them.
inline bool branches(int op) { return is_chance(op) || op == OP_LANE; }

// A decision that is left open: at OPEN the state is kept, then the legal answers are offered, and at DECIDE the engine
// writes one of them. K is the site of the decision.
inline bool decides(int op) { return op == OP_DECIDE || op == OP_DECIDESET; }

// SEE, SEER, SEEL: a number or a list is shown to who watches, as the K-th of the things shown. Behind OPEN they say
// what describes the situation; those from kFirstEvent on say what a seat sees of play.
constexpr int kFirstEvent = 1000000;

// DEFER a, s, low, count: a draw as the set of values that it may have, as runs: the first and the last value of each.
// SPLIT a, set: one of the values goes into a, and the set keeps those with which the next operation does the same.
// A count puts them into its own copy of a program, and no other program has them.
inline bool is_deferred(int op) { return op == OP_DEFER || op == OP_SPLIT; }

// Operations at which an engine stops, and goes on with a value that the program does not give.
inline bool stops(int op) { return branches(op) || op == OP_OPEN || decides(op); }

inline bool never_falls_through(int op) {
  return op == OP_JMP || op == OP_LOOP || op == OP_END || op == OP_FAIL;
}

}  // namespace basanos
