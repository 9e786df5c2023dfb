// Glue between R and the core runs once a call: it is compiled for size (a tenth of what is
// installed), the core for speed. RcppExports.cpp includes a header of this name by itself.
#ifndef SOFTSIEVE_TYPES_H
#define SOFTSIEVE_TYPES_H

#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC optimize("Os")
#endif

#endif
