/** Student's t distribution. */

/**
 * P(T > t) with `degrees` degrees of freedom: the regularised incomplete beta function by its continued fraction (Abramowitz &
 * Stegun 1964, 26.7.1 and 26.5.8), summed by Lentz's method. Absolute error below 1e-12.
 */
export function studentTail(t: number, degrees: number): number {
  if (Number.isNaN(t) || !(degrees > 0)) return Number.NaN;
  const half = 0.5 * incompleteBeta(degrees / (degrees + t * t), degrees / 2, 0.5);
  return t > 0 ? half : 1 - half;
}

/** The regularised incomplete beta function of x in [0, 1]. */
function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x));
  // The fraction converges quickly on one side of the mean; the other is its complement.
  return x < (a + 1) / (a + b + 2) ? (front * fraction(x, a, b)) / a : 1 - (front * fraction(1 - x, b, a)) / b;
}

const TINY = 1e-300;

function fraction(x: number, a: number, b: number): number {
  const safe = (value: number): number => (Math.abs(value) < TINY ? TINY : value);
  let c = 1;
  let d = 1 / safe(1 - ((a + b) * x) / (a + 1));
  let sum = d;
  for (let m = 1; m <= 500; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / safe(1 + even * d);
    c = safe(1 + even / c);
    sum *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / safe(1 + odd * d);
    c = safe(1 + odd / c);
    const step = d * c;
    sum *= step;
    if (Math.abs(step - 1) < 1e-15) break;
  }
  return sum;
}

/** ln of the gamma function for x > 0, by Stirling's series from 10 on (Abramowitz & Stegun 1964, 6.1.41). */
function logGamma(x: number): number {
  let [shift, at] = [0, x];
  while (at < 10) shift -= Math.log(at++);
  const inverse = 1 / (at * at);
  const series = (1 / 12 - inverse * (1 / 360 - inverse * (1 / 1260 - inverse * (1 / 1680 - inverse / 1188)))) / at;
  return shift + (at - 0.5) * Math.log(at) - at + 0.5 * Math.log(2 * Math.PI) + series;
}
