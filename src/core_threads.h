// A parallel loop over independent replicates that the main thread can watch and stop.
#ifndef SOFTSIEVE_CORE_THREADS_H
#define SOFTSIEVE_CORE_THREADS_H

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstddef>
#include <exception>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace softsieve {

// Called by the main thread alone, about ten times a second, with the number of replicates done.
// Returning false asks all workers to stop after the replicate they are in.
using Watch = std::function<bool(std::size_t done)>;

enum class Status { done, stopped };

// For work too short to watch: it is never stopped half way, and an interrupt waits for what
// follows.
inline bool watch_nothing(std::size_t) {
  return true;
}

// Calls body(i) once for every i in 0..count-1, on `threads` threads (at least 1, at most count),
// of which the calling one is the first: it works too, and watches between its replicates.
// `make_worker()` is called once for each thread and gives the callable body with scratch memory
// of its own. Which thread runs which i is not fixed: body(i) must depend on i alone and write
// only where i says. An exception in a worker or in `watch` stops all and is thrown again here,
// when every thread has ended. Status::stopped: some replicates were not run.
template <class MakeWorker>
Status run_replicates(std::size_t count, int threads, MakeWorker make_worker, const Watch& watch) {
  using Clock = std::chrono::steady_clock;
  const std::size_t crew = std::max<std::size_t>(
      1, std::min<std::size_t>(count, static_cast<std::size_t>(std::max(1, threads))));
  // replicates are handed out in blocks: small enough to end together, large enough not to wait
  const std::size_t block = std::max<std::size_t>(1, std::min<std::size_t>(16, count / (8 * crew)));
  std::atomic<std::size_t> next{0}, done{0};
  std::atomic<bool> stop{false};
  std::mutex lock;
  std::exception_ptr trouble;

  auto work = [&](bool watching) {
    try {
      auto body = make_worker();
      auto last = Clock::now();
      for (std::size_t from = next.fetch_add(block); from < count; from = next.fetch_add(block)) {
        const std::size_t to = std::min(count, from + block);
        for (std::size_t i = from; i < to; ++i) {
          if (stop) return;
          body(i);
          ++done;
          if (!watching || Clock::now() - last < std::chrono::milliseconds(100)) continue;
          if (!watch(done)) stop = true;
          last = Clock::now();
        }
      }
    } catch (...) {
      std::lock_guard<std::mutex> hold(lock);
      if (!trouble) trouble = std::current_exception();
      stop = true;
    }
  };

  std::vector<std::thread> team;
  try {
    for (std::size_t t = 1; t < crew; ++t)
      team.emplace_back(work, false);
  } catch (...) {  // no more threads to be had: those there are do the work
  }
  work(true);
  for (auto& thread : team)
    thread.join();
  if (trouble) std::rethrow_exception(trouble);
  return done == count ? Status::done : Status::stopped;
}

}  // namespace softsieve

#endif
