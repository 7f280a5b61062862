/* The arithmetic of bench/kernel.ts written plainly: prints the sum of chances and the evaluations a second. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <time.h>

static double even(void) {
  static long long state = 20261124;
  state = (state * 48271) % 2147483647;
  return state / 2147483647.0;
}
static double cumulative(double shape, double scale, double z) { return z <= 0 ? 0 : exp(shape * log(z / scale)); }
static double growth(double shape, double z, double dz) { return expm1(shape * log1p(dz / z)); }
static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec + t.tv_nsec * 1e-9; }

int main(int argc, char **argv) {
  int count = atoi(argv[1]), runs = argc > 2 ? atoi(argv[2]) : 1;
  double *km = malloc(count * sizeof *km), *days = malloc(count * sizeof *days);
  for (int i = 0; i < count; i++) { km[i] = 1000 + 250000 * even(); days[i] = 100 + 7000 * even(); }
  double best = 1e300, sum = 0;
  for (int run = 0; run < runs; run++) {
    double began = now();
    sum = 0;
    for (int i = 0; i < count; i++) {
      int k = i % 20;
      double s1 = 2 + 0.15 * k, e1 = 120000 + 5000.0 * k, s2 = 3 + 0.1 * k, e2 = 4000 + 120.0 * k, share = 0.1 + 0.04 * k;
      double by_distance = cumulative(s1, e1, km[i]), by_age = cumulative(s2, e2, days[i]);
      double step = by_distance * growth(s1, km[i], 15000) + by_age * growth(s2, days[i], 365);
      sum -= 1 / (1 + exp(by_distance + by_age) * ((1 - share) / share)) * expm1(-step);
    }
    double took = now() - began;
    if (took < best) best = took;
  }
  printf("%.17g %.6g\n", sum, count / best);
  return 0;
}
