// What stands at a path, what files hold byte by byte, and signals that writing must outlive.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_pairs.h"
#include "core_cells.h"

#include <Rcpp.h>
#include <array>
#include <csignal>
#include <cstdint>
#include <cstdio>
#include <string>
#include <sys/stat.h>

using namespace softsieve;

// "none", "plain", "folder", "dangling" (a link to nothing) or "other" (a device, a pipe, a
// socket).
// [[Rcpp::export(rng = false)]]
std::string cpp_kind_of_path(const std::string& path) {
  struct stat target;
  if (stat(path.c_str(), &target) == 0) {
    if ((target.st_mode & S_IFMT) == S_IFREG) return "plain";
    return (target.st_mode & S_IFMT) == S_IFDIR ? "folder" : "other";
  }
#ifndef _WIN32
  struct stat own;
  if (lstat(path.c_str(), &own) == 0) return "dangling";
#endif
  return "none";
}

// Renames files in turn until one cannot be (to "": takes it away); returns how many were. Nothing
// but a kill comes between: whoever asks the process to end waits for the fraction of a millisecond
// that it takes.
// [[Rcpp::export(rng = false)]]
int cpp_move_all(const Rcpp::CharacterVector& from, const Rcpp::CharacterVector& to) {
#ifndef _WIN32
  sigset_t ends, before;
  sigemptyset(&ends);
  for (const int signal : {SIGINT, SIGTERM, SIGHUP, SIGQUIT})
    sigaddset(&ends, signal);
  pthread_sigmask(SIG_BLOCK, &ends, &before);
#endif
  int moved = 0;
  while (moved < from.size()) {
    const char *now = from[moved], *then = to[moved];
    if ((*then == '\0' ? std::remove(now) : std::rename(now, then)) != 0) break;
    ++moved;
  }
#ifndef _WIN32
  pthread_sigmask(SIG_SETMASK, &before, nullptr);
#endif
  return moved;
}

// A write beyond the session's limit on the size of files (ulimit -f) ends the process by a signal;
// ignored, it is an error that can be told. Returns whether it was ignored before.
// [[Rcpp::export(rng = false)]]
bool cpp_outlive_size_limit(bool ignore) {
#ifdef SIGXFSZ
  return std::signal(SIGXFSZ, ignore ? SIG_IGN : SIG_DFL) == SIG_IGN;
#else
  return ignore;
#endif
}

// The sum that zip files keep of what they pack (CRC-32 of ISO 3309, reflected, 0xEDB88320);
// `before`: that of the bytes that came before these, 0 where there were none.
// [[Rcpp::export(rng = false)]]
double cpp_zip_sum(const Rcpp::RawVector& bytes, double before = 0) {
  std::array<std::uint32_t, 256> table{};
  for (std::uint32_t i = 0; i < 256; ++i) {
    std::uint32_t c = i;
    for (int k = 0; k < 8; ++k)
      c = (c & 1U) ? 0xEDB88320U ^ (c >> 1) : c >> 1;
    table[i] = c;
  }
  std::uint32_t sum = static_cast<std::uint32_t>(before) ^ 0xFFFFFFFFU;
  for (const unsigned char byte : bytes)
    sum = table[(sum ^ byte) & 0xFFU] ^ (sum >> 8);
  return static_cast<double>(sum ^ 0xFFFFFFFFU);
}

// One look at a piece of text: where its last line end outside quotes is (0: nowhere), how many
// line ends there are, and whether there are quotes, bytes of 0, and bytes beyond ASCII.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_look_at_bytes(Rcpp::RawVector bytes, Rcpp::RawVector end) {
  softsieve::must_hold(end.size() == 1, "a line ends in one byte");
  const Rbyte mark = end[0];
  double last = 0, ends = 0;
  bool quoted = false, inside = false, zeros = false, high = false;
  const Rbyte* at = bytes.begin();
  for (R_xlen_t i = 0; i < bytes.size(); ++i) {
    const Rbyte byte = at[i];
    if (byte == mark) {
      ++ends;
      if (!inside) last = static_cast<double>(i + 1);
    }
    if (byte == '"') {
      quoted = true;
      inside = !inside;
    }
    zeros = zeros || byte == 0;
    high = high || byte >= 0x80;
  }
  return Rcpp::List::create(Rcpp::Named("last") = last, Rcpp::Named("ends") = ends,
                            Rcpp::Named("quoted") = quoted, Rcpp::Named("zeros") = zeros,
                            Rcpp::Named("high") = high);
}

// Of text that is plain (core_cells.h): lines, and of each column 1 or 2 where it holds whole
// numbers alone (of up to 9 or 15 digits), otherwise 0; NULL of other text.
// [[Rcpp::export(rng = false)]]
SEXP cpp_scan_cells(const Rcpp::RawVector& text, const std::string& delimiter,
                    const std::vector<std::string>& missing, int threads) {
  softsieve::must_hold(delimiter.size() == 1, "a delimiter is one character");
  softsieve::must_hold(threads >= 1, "there must be at least one thread");
  const auto found = softsieve::scan_cells(RAW(text), static_cast<std::size_t>(text.size()),
                                           delimiter[0], missing, threads);
  if (!found.lines) return R_NilValue;
  Rcpp::IntegerVector whole;
  for (const softsieve::CellKind kind : found.kinds) {
    const bool small = kind == softsieve::CellKind::small;
    whole.push_back(small ? 1 : kind == softsieve::CellKind::large ? 2 : 0);
  }
  return Rcpp::List::create(Rcpp::Named("lines") = static_cast<double>(found.lines),
                            Rcpp::Named("whole") = whole);
}
