// Steps of one push alone, as one would write them by hand: drift, push, drift. gcc -O3 -march=native, one thread.
#include <math.h>
#include <stdint.h>

typedef float *restrict F;

#define BEGIN(name) void name(int64_t n, float **s, float **o, float dt, const float *p) { \
  F x = s[0], y = s[1], z = s[2], u = s[3], v = s[4], w = s[5], X = o[0], Y = o[1], Z = o[2], U = o[3], V = o[4], W = o[5]; \
  float half = 0.5f * dt; for (int64_t i = 0; i < n; i++) { float hx = x[i] + u[i] * half, hy = y[i] + v[i] * half, hz = z[i] + w[i] * half; \
  float ax = 0, ay = 0, az = 0; (void)hx; (void)hy; (void)hz;
#define END U[i] = u[i] + ax * dt; V[i] = v[i] + ay * dt; W[i] = w[i] + az * dt; \
  X[i] = x[i] + u[i] * dt + ax * dt * half; Y[i] = y[i] + v[i] * dt + ay * dt * half; Z[i] = z[i] + w[i] * dt + az * dt * half; } }

BEGIN(gravity) ay = -p[0]; END

// p: strength, core², point
BEGIN(pull) float gx = p[2] - hx, gy = p[3] - hy, gz = p[4] - hz; float k = p[0] / sqrtf(gx * gx + gy * gy + gz * gz + p[1]);
  ax = gx * k; ay = gy * k; az = gz * k; END

// p: strength, core²; about y, driving round
BEGIN(swirl) float k = p[0] / sqrtf(hx * hx + hz * hz + p[1]); ax = hz * k; az = -hx * k; END

// p: keep, gain, reach (of exp(-rate dt))
void drag(int64_t n, float **s, float **o, float dt, const float *p) {
  for (int k = 0; k < 3; k++) { F x = s[k], v = s[k + 3], X = o[k], V = o[k + 3];
    for (int64_t i = 0; i < n; i++) { V[i] = v[i] * p[0]; X[i] = x[i] + v[i] * p[1]; } } }

// p: keep, gain, reach of x'' = -stiffness x - damping x', stiffness, point
void spring(int64_t n, float **s, float **o, float dt, const float *p) {
  for (int k = 0; k < 3; k++) { F x = s[k], v = s[k + 3], X = o[k], V = o[k + 3]; float at = p[4 + k];
    for (int64_t i = 0; i < n; i++) { float a = (at - x[i]) * p[3]; V[i] = v[i] * p[0] + a * p[1]; X[i] = x[i] + v[i] * p[1] + a * p[2]; } } }
