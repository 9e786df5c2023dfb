// What the main thread does while workers run: shows progress, and asks R about interrupts.
#ifndef SOFTSIEVE_BIND_WATCH_H
#define SOFTSIEVE_BIND_WATCH_H

#include "core_threads.h"

#include <Rcpp.h>

namespace softsieve {

inline void ask_r_about_interrupts(void*) {
  R_CheckUserInterrupt();
}

// `progress` is NULL or an R function of the number of replicates done. An interrupt makes the
// watch return false; the caller turns Status::stopped into R's interrupt when all threads ended.
inline Watch watch_of(Rcpp::Nullable<Rcpp::Function> progress) {
  return [progress](std::size_t done) {
    if (progress.isNotNull()) Rcpp::Function(progress.get())(static_cast<double>(done));
    return R_ToplevelExec(ask_r_about_interrupts, nullptr) == TRUE;
  };
}

inline void stop_if_interrupted(Status status) {
  if (status == Status::stopped) throw Rcpp::internal::InterruptedException();
}

}  // namespace softsieve

#endif
