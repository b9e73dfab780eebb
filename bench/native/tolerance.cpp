// Yardstick of `npm run bench -- tolerance`: the same trials of a lens in plain C++, scalar, one thread. Each trial finds every ray through its
// point of the stop, traces it to the image, moves the image for the least spot, and takes the RMS spot of every field. The lenses come perturbed
// from bench/src/tolerance-native.ts: making them is not counted here.
//   build: g++ -O3 -march=native tolerance.cpp -o tolerance
//   usage: ./tolerance FILE     doubles as laid out below; prints one JSON line
#include <chrono>
#include <cmath>
#include <cstdio>
#include <vector>

// A surface: curvature, then its frame seen from the surface before (shift and rotation, row by row), then the indices before it by colour.
struct Surface { double c, s[3], r[9], n[8]; };
struct Lens { double z, stopSemi, last[8]; std::vector<Surface> surfaces; };
struct Ray { double x, y, z, l, m, n; };
struct Aim { double ex, ey, h[4]; };

static int waves, fields, points, count, stop, trials;
static std::vector<double> px, py, weight, waveWeight, fieldWeight, tanX, tanY;

static bool trace(const Lens& lens, Ray& ray, int wave, int until) {
  for (int j = 0; j < until; j++) {
    const Surface& f = lens.surfaces[j];
    const double x = f.s[0] + f.r[0] * ray.x + f.r[1] * ray.y + f.r[2] * ray.z;
    const double y = f.s[1] + f.r[3] * ray.x + f.r[4] * ray.y + f.r[5] * ray.z;
    const double z = f.s[2] + f.r[6] * ray.x + f.r[7] * ray.y + f.r[8] * ray.z;
    const double l = f.r[0] * ray.l + f.r[1] * ray.m + f.r[2] * ray.n;
    const double m = f.r[3] * ray.l + f.r[4] * ray.m + f.r[5] * ray.n;
    const double n = f.r[6] * ray.l + f.r[7] * ray.m + f.r[8] * ray.n;
    const double b = n - f.c * (x * l + y * m + z * n);
    const double q = f.c * (x * x + y * y + z * z) - 2 * z;
    const double root = b * b - f.c * q;
    if (root < 0) return false;
    const double t = q / (b + std::sqrt(root));
    ray.x = x + t * l; ray.y = y + t * m; ray.z = z + t * n;
    const double nx = -f.c * ray.x, ny = -f.c * ray.y, nz = 1 - f.c * ray.z;
    const double mu = f.n[wave] / (j + 1 < count ? lens.surfaces[j + 1].n[wave] : lens.last[wave]);
    const double cosine = l * nx + m * ny + n * nz;
    const double squared = 1 - mu * mu * (1 - cosine * cosine);
    if (squared < 0) return false;
    const double g = std::sqrt(squared) - mu * cosine;
    ray.l = mu * l + g * nx; ray.m = mu * m + g * ny; ray.n = mu * n + g * nz;
  }
  return true;
}

static Ray launch(const Lens& lens, int field, double ex, double ey) {
  const double scale = 1 / std::sqrt(tanX[field] * tanX[field] + tanY[field] * tanY[field] + 1);
  const double l = tanX[field] * scale, m = tanY[field] * scale, n = scale;
  const double back = ex * l + ey * m;
  return {ex - back * l, ey - back * m, lens.z - back * n, l, m, n};
}

// Broyden's method from where the ray was in the design, to 1e-12 of the stop.
static bool aim(const Lens& lens, int field, int wave, int p, Aim& a) {
  const double tx = px[p] * lens.stopSemi, ty = py[p] * lens.stopSemi;
  double sx = 0, sy = 0, mx = 0, my = 0, best = 1e300;
  for (int round = 0; round < 20; round++) {
    Ray ray = launch(lens, field, a.ex, a.ey);
    if (!trace(lens, ray, wave, stop + 1)) return false;
    const double nx = tx - ray.x, ny = ty - ray.y, miss = std::sqrt(nx * nx + ny * ny) / lens.stopSemi;
    if (miss <= 1e-12 || (miss <= 1e-9 && miss >= best)) return true;
    if (round > 0) {
      const double yx = mx - nx, yy = my - ny;
      const double hx = a.h[0] * yx + a.h[1] * yy, hy = a.h[2] * yx + a.h[3] * yy, d = sx * hx + sy * hy;
      const double ux = (sx * a.h[0] + sy * a.h[2]) / d, uy = (sx * a.h[1] + sy * a.h[3]) / d;
      a.h[0] += (sx - hx) * ux; a.h[1] += (sx - hx) * uy; a.h[2] += (sy - hy) * ux; a.h[3] += (sy - hy) * uy;
    }
    sx = a.h[0] * nx + a.h[1] * ny; sy = a.h[2] * nx + a.h[3] * ny;
    a.ex += sx; a.ey += sy;
    if (round > 0 && miss <= 1e-9 && miss < 1e-3 * best) return true;
    best = miss; mx = nx; my = ny;
  }
  return false;
}

// All rays of a lens at the image; false where one is lost.
static bool bundle(const Lens& lens, std::vector<Aim>& aims, std::vector<Ray>& rays) {
  for (int f = 0, at = 0; f < fields; f++)
    for (int w = 0; w < waves; w++)
      for (int p = 0; p < points; p++, at++) {
        if (!aim(lens, f, w, p, aims[at])) return false;
        rays[at] = launch(lens, f, aims[at].ex, aims[at].ey);
        if (!trace(lens, rays[at], w, count)) return false;
      }
  return true;
}

// RMS spot of each field, mm, at the best focus.
static void spots(const std::vector<Ray>& rays, double* rms) {
  double slope = 0, curvature = 0, square[8], part[8], own[8];
  for (int f = 0, at = 0; f < fields; f++) {
    double all = 0, x = 0, y = 0, u = 0, v = 0;
    for (int w = 0, i = at; w < waves; w++)
      for (int p = 0; p < points; p++, i++) {
        const double k = waveWeight[w] * weight[p], ru = rays[i].l / rays[i].n, rv = rays[i].m / rays[i].n;
        all += k; x += k * rays[i].x; y += k * rays[i].y; u += k * ru; v += k * rv;
      }
    x /= all; y /= all; u /= all; v /= all;
    double a = 0, b = 0, c = 0;
    for (int w = 0; w < waves; w++)
      for (int p = 0; p < points; p++, at++) {
        const double k = waveWeight[w] * weight[p] / all;
        const double dx = rays[at].x - x, dy = rays[at].y - y;
        const double du = rays[at].l / rays[at].n - u, dv = rays[at].m / rays[at].n - v;
        a += k * (dx * dx + dy * dy); b += k * (dx * du + dy * dv); c += k * (du * du + dv * dv);
      }
    square[f] = a; part[f] = b; own[f] = c;
    slope += fieldWeight[f] * b; curvature += fieldWeight[f] * c;
  }
  const double shift = -slope / curvature;
  for (int f = 0; f < fields; f++) rms[f] = std::sqrt(square[f] + 2 * shift * part[f] + shift * shift * own[f]);
}

static double get(FILE* in) { double value; return fread(&value, 8, 1, in) == 1 ? value : NAN; }
static std::vector<double> row(FILE* in, int n) { std::vector<double> all(n); for (double& one : all) one = get(in); return all; }

int main(int argc, char** argv) {
  FILE* in = argc > 1 ? fopen(argv[1], "rb") : nullptr;
  if (!in) return 1;
  waves = get(in); fields = get(in); points = get(in); count = get(in); stop = get(in); trials = get(in);
  if (waves > 8 || fields > 8) return 2;
  px = row(in, points); py = row(in, points); weight = row(in, points);
  waveWeight = row(in, waves); fieldWeight = row(in, fields); tanX = row(in, fields); tanY = row(in, fields);
  std::vector<Lens> lenses(trials + 1); // the design first
  const double semi = get(in);
  for (Lens& lens : lenses) {
    lens.z = get(in); lens.stopSemi = get(in);
    lens.surfaces.resize(count);
    for (Surface& f : lens.surfaces) {
      f.c = get(in);
      for (double& one : f.s) one = get(in);
      for (double& one : f.r) one = get(in);
      for (int w = 0; w < waves; w++) f.n[w] = get(in);
    }
    for (int w = 0; w < waves; w++) lens.last[w] = get(in);
  }
  const int all = fields * waves * points;
  std::vector<Aim> design(all), aims(all);
  std::vector<Ray> rays(all);
  for (int f = 0, at = 0; f < fields; f++)
    for (int w = 0; w < waves; w++)
      for (int p = 0; p < points; p++, at++) {
        const double scale = semi / lenses[0].stopSemi;
        design[at] = {px[p] * semi, py[p] * semi, {scale, 0, 0, scale}};
      }
  if (!bundle(lenses[0], design, rays)) return 3;
  double sum = 0;
  const auto begun = std::chrono::steady_clock::now();
  for (int t = 1; t <= trials; t++) {
    aims = design;
    double rms[8];
    if (!bundle(lenses[t], aims, rays)) return 4;
    spots(rays, rms);
    for (int f = 0; f < fields; f++) sum += rms[f];
  }
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  printf("{\"millisecondsPerTrial\": %.6f, \"checksum\": %.12g}\n", 1000 * seconds / trials, 1000 * sum / (trials * fields));
}
