// A parallel loop over independent replicates that the main thread can watch and stop.
#ifndef SOFTSIEVE_CORE_THREADS_H
#define SOFTSIEVE_CORE_THREADS_H

#include <algorithm>
#include <atomic>
#include <chrono>
#include <condition_variable>
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

// Calls body(i) once for every i in 0..count-1, on `threads` threads (at least 1, at most count).
// `make_worker()` is called once for each thread and gives the callable body with scratch memory
// of its own. Which thread runs which i is not fixed: body(i) must depend on i alone and write
// only where i says. An exception in a worker or in `watch` stops all and is thrown again here,
// when every thread has ended. Status::stopped: some replicates were not run.
template <class MakeWorker>
Status run_replicates(std::size_t count, int threads, MakeWorker make_worker, const Watch& watch) {
  const auto beat = std::chrono::milliseconds(100);
  const std::size_t crew = std::max<std::size_t>(
      1, std::min<std::size_t>(count, static_cast<std::size_t>(std::max(1, threads))));
  std::atomic<std::size_t> next{0}, done{0};
  std::atomic<bool> stop{false};

  if (crew == 1) {  // small work is not worth a thread
    auto body = make_worker();
    auto last = std::chrono::steady_clock::now();
    for (std::size_t i = 0; i < count; ++i) {
      body(i);
      const auto now = std::chrono::steady_clock::now();
      if (now - last >= beat) {
        last = now;
        if (!watch(i + 1)) return Status::stopped;
      }
    }
    return Status::done;
  }

  std::mutex lock;
  std::condition_variable ended;
  std::size_t running = crew;
  std::exception_ptr trouble;
  auto work = [&] {
    try {
      auto body = make_worker();
      for (std::size_t i = next++; i < count && !stop; i = next++) {
        body(i);
        ++done;
      }
    } catch (...) {
      std::lock_guard<std::mutex> hold(lock);
      if (!trouble) trouble = std::current_exception();
      stop = true;
    }
    std::lock_guard<std::mutex> hold(lock);
    --running;
    ended.notify_one();
  };

  std::vector<std::thread> team;
  try {
    for (std::size_t t = 0; t < crew; ++t) team.emplace_back(work);
    std::unique_lock<std::mutex> hold(lock);
    while (!ended.wait_for(hold, beat, [&] { return running == 0; })) {
      hold.unlock();
      if (!watch(done)) stop = true;
      hold.lock();
    }
  } catch (...) {
    stop = true;
    for (auto& thread : team) thread.join();
    throw;
  }
  for (auto& thread : team) thread.join();
  if (trouble) std::rethrow_exception(trouble);
  return done == count ? Status::done : Status::stopped;
}

}  // namespace softsieve

#endif
