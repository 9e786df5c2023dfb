// What a server writes of a column: an array as text, {1,NULL,"a \"b\""}, taken apart.
#include "softsieve_types.h"

#include <Rcpp.h>
#include <climits>
#include <cstring>
#include <string>

namespace {

// One element after another; `own` holds what was quoted, without its quotes.
class Elements {
 public:
  explicit Elements(const char* text) : at_(*text == '{' ? text + 1 : text) {}

  bool next() {
    if (*at_ == '\0' || *at_ == '}') return false;
    quoted_ = *at_ == '"';
    if (quoted_) {
      own_.clear();
      for (++at_; *at_ != '\0' && *at_ != '"'; ++at_) {
        if (*at_ == '\\' && at_[1] != '\0') ++at_;
        own_ += *at_;
      }
      if (*at_ == '"') ++at_;
    } else {
      from_ = at_;
      while (*at_ != '\0' && *at_ != ',' && *at_ != '}')
        ++at_;
      size_ = static_cast<int>(at_ - from_);
    }
    if (*at_ == ',') ++at_;
    return true;
  }

  bool missing() const { return !quoted_ && size_ == 4 && !std::strncmp(from_, "NULL", 4); }
  const char* text() const { return quoted_ ? own_.c_str() : from_; }
  int size() const { return quoted_ ? static_cast<int>(own_.size()) : size_; }

 private:
  const char* at_;
  const char* from_ = "";
  int size_ = 0;
  bool quoted_ = false;
  std::string own_;
};

// (alone: what reads a number looks at all the text that follows)
double number_of(const Elements& one) {
  return R_strtod(std::string(one.text(), one.size()).c_str(), nullptr);
}

// A whole number that an int holds, and R does not take for a missing one.
bool whole_of(const Elements& one, int* value) {
  const char* p = one.text();
  const char* const end = p + one.size();
  const bool minus = p != end && *p == '-';
  long long x = 0;
  for (p += minus; p != end && *p >= '0' && *p <= '9' && x <= INT_MAX; ++p)
    x = 10 * x + (*p - '0');
  *value = static_cast<int>(minus ? -x : x);
  return p == end && x <= INT_MAX;
}

R_xlen_t count_elements(const char* text) {
  R_xlen_t n = 0;
  for (Elements one(text); one.next();)
    ++n;
  return n;
}

}  // namespace

// `as`: "whole", "number", "flag" or "text". Of no array (NA) nothing comes. A whole number that R
// takes for a missing one makes numbers of all.
// [[Rcpp::export(rng = false)]]
SEXP cpp_array_values(SEXP array, const std::string& as) {
  const bool one_text = TYPEOF(array) == STRSXP && Rf_length(array) == 1;
  const SEXP held = one_text ? STRING_ELT(array, 0) : NA_STRING;
  const char* text = held == NA_STRING ? "" : CHAR(held);
  const R_xlen_t n = count_elements(text);
  const SEXPTYPE type = as == "whole"    ? INTSXP
                        : as == "number" ? REALSXP
                        : as == "flag"   ? LGLSXP
                                         : STRSXP;
  const Rcpp::Shield<SEXP> values(Rf_allocVector(type, n));
  R_xlen_t i = 0;
  for (Elements one(text); one.next(); ++i) {
    const bool none = one.missing();
    if (type == STRSXP) {
      SET_STRING_ELT(values, i, none ? NA_STRING : Rf_mkCharLenCE(one.text(), one.size(), CE_UTF8));
    } else if (type == LGLSXP) {
      LOGICAL(values)[i] = none ? NA_LOGICAL : one.text()[0] == 't';
    } else if (type == REALSXP) {
      REAL(values)[i] = none ? NA_REAL : number_of(one);
    } else if (none) {
      INTEGER(values)[i] = NA_INTEGER;
    } else if (!whole_of(one, INTEGER(values) + i)) {
      return cpp_array_values(array, "number");
    }
  }
  return values;
}
