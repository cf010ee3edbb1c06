/* Made by Yarn Puppet. What is written here by hand is gone when it is made again.
   It is yours, without conditions. SPDX-License-Identifier: MIT-0 */
#include "@.h"

#if @UPPER@_SHAPE != @SHAPE@
#error "@.h is of another puppet than @.c: hand both off together"
#endif

#include <float.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

/* Products and sums are rounded each by itself, so that every machine gives the same. */
#if defined(__clang__)
#pragma STDC FP_CONTRACT OFF
#elif defined(__GNUC__)
#pragma GCC optimize("fp-contract=off")
#endif
#if defined(FLT_EVAL_METHOD) && FLT_EVAL_METHOD != 0 && FLT_EVAL_METHOD != 1
#error "compile for floating point that is no wider than its type, as with -msse2 -mfpmath=sse"
#endif

/* What most ticks do not come to stands apart, so that what they do come to is short. */
#if defined(__GNUC__)
#define APART __attribute__((noinline))
#else
#define APART
#endif

#define NOWHERE INT32_MIN
@CONSTANTS@

