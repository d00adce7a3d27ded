#ifndef RIDGE_BENCH_KERNEL_H
#define RIDGE_BENCH_KERNEL_H

#ifdef __cplusplus
extern "C" {
#endif

/* The same cascade loops over the same rigid axis as core/control/fixedstep.h, written as one bare loop: what this
   machine can do at best. Returns the last angle, so that nothing is optimised away. */
double ridgeBareKernel(double seconds);
/* The same loops around two masses with free travel. */
double ridgeBareTwoMassKernel(double seconds);

#ifdef __cplusplus
}
#endif
#endif
