#include "core_linear.h"

// (an empty prefix: here they are made)
SOFTSIEVE_LINEAR()
