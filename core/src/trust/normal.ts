/** The standard normal distribution. */

/**
 * P(Z <= x). By the complementary error function in continued-fraction-free form of W. J. Cody's rational fit, as given
 * by West 2005, "Better approximations to cumulative normal functions"; absolute error below 1e-14.
 */
export function normalCdf(x: number): number {
  if (Number.isNaN(x)) return Number.NaN;
  const z = Math.abs(x);
  let tail: number;
  if (z > 37) tail = 0;
  else {
    const e = Math.exp((-z * z) / 2);
    if (z < 7.07106781186547) {
      const over =
        ((((((3.52624965998911e-2 * z + 0.700383064443688) * z + 6.37396220353165) * z + 33.912866078383) * z + 112.079291497871) * z +
          221.213596169931) *
          z +
          220.206867912376) *
        e;
      const under =
        ((((((8.83883476483184e-2 * z + 1.75566716318264) * z + 16.064177579207) * z + 86.7807322029461) * z + 296.564248779674) * z +
          637.333633378831) *
          z +
          793.826512519948) *
          z +
        440.413735824752;
      tail = over / under;
    } else tail = e / ((z + 1 / (z + 2 / (z + 3 / (z + 4 / (z + 0.65))))) * 2.506628274631);
  }
  return x > 0 ? 1 - tail : tail;
}

/**
 * The x of which P(Z <= x) = p, for 0 < p < 1; -Infinity and Infinity at the ends, NaN outside. By Acklam's rational fit
 * and one step of Halley's method on top; relative error below 1e-13.
 */
export function normalQuantile(p: number): number {
  if (!(p >= 0 && p <= 1)) return Number.NaN;
  if (p === 0) return Number.NEGATIVE_INFINITY;
  if (p === 1) return Number.POSITIVE_INFINITY;
  const x = firstGuess(p);
  const error = normalCdf(x) - p;
  const step = error * Math.sqrt(2 * Math.PI) * Math.exp((x * x) / 2);
  return x - step / (1 + (x * step) / 2);
}

const A = [
  -3.969683028665376e1, 2.209460984245205e2, -2.759285104469687e2, 1.38357751867269e2, -3.066479806614716e1, 2.506628277459239,
] as const;
const B = [-5.447609879822406e1, 1.615858368580409e2, -1.556989798598866e2, 6.680131188771972e1, -1.328068155288572e1] as const;
const C = [
  -7.784894002430293e-3, -3.223964580411365e-1, -2.400758277161838, -2.549732539343734, 4.374664141464968, 2.938163982698783,
] as const;
const D = [7.784695709041462e-3, 3.224671290700398e-1, 2.445134137142996, 3.754408661907416] as const;
const TAIL = 0.02425;

function firstGuess(p: number): number {
  if (p > 1 - TAIL) return -firstGuess(1 - p);
  if (p < TAIL) {
    const q = Math.sqrt(-2 * Math.log(p));
    return (((((C[0] * q + C[1]) * q + C[2]) * q + C[3]) * q + C[4]) * q + C[5]) / ((((D[0] * q + D[1]) * q + D[2]) * q + D[3]) * q + 1);
  }
  const q = p - 0.5;
  const r = q * q;
  return (
    ((((((A[0] * r + A[1]) * r + A[2]) * r + A[3]) * r + A[4]) * r + A[5]) * q) /
    (((((B[0] * r + B[1]) * r + B[2]) * r + B[3]) * r + B[4]) * r + 1)
  );
}

/** The density of the standard normal distribution. */
export const normalDensity = (x: number): number => Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI);
