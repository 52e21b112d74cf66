/* The bench's reference step in C: three curves' worth of work, lift, drag and curl noise, as bench/effects.py `reference`.
   Built for the bench only: gcc -O3 -march=native. Noise: K. Perlin, "Improving noise", SIGGRAPH 2002. */
#include <math.h>
#include <stdint.h>

static inline float curve(const float *t, int n, float x) {
    if (x < t[0]) x = t[0];
    if (x > t[(n - 1) * 5]) x = t[(n - 1) * 5];
    int k = 0;
    while (k < n - 1 && x >= t[(k + 1) * 5]) k++;
    const float *r = t + k * 5;
    float d = x - r[0];
    return ((r[4] * d + r[3]) * d + r[2]) * d + r[1];
}

static void noise(const uint8_t *P, const float (*g)[3], float x, float y, float z, float *dx, float *dy, float *dz) {
    float fx = floorf(x), fy = floorf(y), fz = floorf(z);
    int X = (int)fx & 255, Y = (int)fy & 255, Z = (int)fz & 255;
    x -= fx; y -= fy; z -= fz;
    float u = x * x * x * (x * (x * 6 - 15) + 10), v = y * y * y * (y * (y * 6 - 15) + 10), w = z * z * z * (z * (z * 6 - 15) + 10);
    float du = 30 * x * x * (x * (x - 2) + 1), dv = 30 * y * y * (y * (y - 2) + 1), dw = 30 * z * z * (z * (z - 2) + 1);
    int A = P[X] + Y, AA = P[A & 255] + Z, AB = P[(A + 1) & 255] + Z, B = P[X + 1] + Y, BA = P[B & 255] + Z, BB = P[(B + 1) & 255] + Z;
    const float *g0 = g[P[AA & 255] & 15], *g1 = g[P[BA & 255] & 15], *g2 = g[P[AB & 255] & 15], *g3 = g[P[BB & 255] & 15];
    const float *g4 = g[P[(AA + 1) & 255] & 15], *g5 = g[P[(BA + 1) & 255] & 15], *g6 = g[P[(AB + 1) & 255] & 15], *g7 = g[P[(BB + 1) & 255] & 15];
    float x1 = x - 1, y1 = y - 1, z1 = z - 1;
    float n0 = g0[0] * x + g0[1] * y + g0[2] * z, n1 = g1[0] * x1 + g1[1] * y + g1[2] * z, n2 = g2[0] * x + g2[1] * y1 + g2[2] * z;
    float n3 = g3[0] * x1 + g3[1] * y1 + g3[2] * z, n4 = g4[0] * x + g4[1] * y + g4[2] * z1, n5 = g5[0] * x1 + g5[1] * y + g5[2] * z1;
    float n6 = g6[0] * x + g6[1] * y1 + g6[2] * z1, n7 = g7[0] * x1 + g7[1] * y1 + g7[2] * z1;
    float k1 = n1 - n0, k2 = n2 - n0, k3 = n4 - n0, k4 = n0 - n1 - n2 + n3, k5 = n0 - n2 - n4 + n6, k6 = n0 - n1 - n4 + n5;
    float k7 = n1 + n2 + n4 + n7 - n0 - n3 - n5 - n6;
    float uv = u * v, vw = v * w, uw = u * w, uvw = uv * w;
    float w0 = 1 - u - v - w + uv + vw + uw - uvw, w1 = u - uv - uw + uvw, w2 = v - uv - vw + uvw, w3 = uv - uvw;
    float w4 = w - vw - uw + uvw, w5 = uw - uvw, w6 = vw - uvw, w7 = uvw;
#define BLEND(a) (w0 * g0[a] + w1 * g1[a] + w2 * g2[a] + w3 * g3[a] + w4 * g4[a] + w5 * g5[a] + w6 * g6[a] + w7 * g7[a])
    *dx = du * (k1 + k4 * v + k6 * w + k7 * vw) + BLEND(0);
    *dy = dv * (k2 + k4 * u + k5 * w + k7 * uw) + BLEND(1);
    *dz = dw * (k3 + k5 * v + k6 * u + k7 * uv) + BLEND(2);
}

/* in: position, velocity (3 arrays each), age, lifespan. curves: lift and swirl over life. s: lift, drag, swirl, its output range
   (2), scale, evolution, time, dt, keep, gain, drift. Pushes are read half a step
   on, and drag is exact: a drift, a push, a drift. */
void step(int64_t n, const float *const *in, float *const *out, const float *lift, int lift_n, const float *swirl, int swirl_n,
          const float *s, const float *offset, const uint8_t *P, const float (*g)[3]) {
    float inverse = 1.0f / s[5], half = 0.5f * s[8], slide = (s[7] - half) * s[6] * inverse;
    for (int64_t i = 0; i < n; i++) {
        float px = in[0][i], py = in[1][i], pz = in[2][i], vx = in[3][i], vy = in[4][i], vz = in[5][i];
        float life = in[6][i] / in[7][i];
        life = life < 0 ? 0 : life > 1 ? 1 : life;
        float up = s[0] * curve(lift, lift_n, life);
        float h = curve(swirl, swirl_n, life), strength = s[2] * (s[3] * (1 - h) + s[4] * h);
        float x = (px + vx * half) * inverse, y = (py + vy * half) * inverse, z = (pz + vz * half) * inverse, a[3], b[3], c[3];
        noise(P, g, x + offset[0] + slide, y + offset[1], z + offset[2], a, a + 1, a + 2);
        noise(P, g, x + offset[3], y + offset[4] + slide, z + offset[5], b, b + 1, b + 2);
        noise(P, g, x + offset[6], y + offset[7], z + offset[8] + slide, c, c + 1, c + 2);
        float ax = (c[1] - b[2]) * strength, ay = up + (a[2] - c[0]) * strength, az = (b[0] - a[1]) * strength;
        out[0][i] = px + vx * s[10] + ax * s[11]; out[1][i] = py + vy * s[10] + ay * s[11]; out[2][i] = pz + vz * s[10] + az * s[11];
        out[3][i] = vx * s[9] + ax * s[10]; out[4][i] = vy * s[9] + ay * s[10]; out[5][i] = vz * s[9] + az * s[10];
    }
}
