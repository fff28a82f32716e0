/** Lanczos' approximation; good to some fifteen digits for x above 0. */
export function logGamma(x: number): number {
  const g = [
    ...[676.5203681218851, -1259.1392167224028, 771.3234287776531, -176.6150291621406],
    ...[12.507343278686905, -0.13857109526572012, 9.984369578019572e-6, 1.5056327351493116e-7],
  ];
  const y = x - 1;
  const t = y + 7.5;
  const sum = g.reduce((total, factor, i) => total + factor / (y + i + 1), 0.9999999999998099);
  return 0.5 * Math.log(2 * Math.PI) + (y + 0.5) * Math.log(t) - t + Math.log(sum);
}

/** The continued fraction of the incomplete beta function (Abramowitz and Stegun 26.5.8), by Lentz. */
function fraction(x: number, a: number, b: number): number {
  const tiny = 1e-300;
  let c = 1;
  let d = 1 / (1 - ((a + b) * x) / (a + 1) || tiny);
  let value = d;
  for (let m = 1; m <= 500; m += 1) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / (1 + even * d || tiny);
    c = 1 + even / c || tiny;
    value *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / (1 + odd * d || tiny);
    c = 1 + odd / c || tiny;
    value *= d * c;
    if (Math.abs(d * c - 1) < 1e-14) break;
  }
  return value;
}

/** The probability that something distributed as Beta(a, b) is at most x. */
export function betaShare(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x));
  return x < (a + 1) / (a + b + 2)
    ? (front * fraction(x, a, b)) / a
    : 1 - (front * fraction(1 - x, b, a)) / b;
}

/** Where something distributed as Beta(a, b) lies below with this probability. */
export function betaQuantile(probability: number, a: number, b: number): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < 60; i += 1) {
    const middle = (low + high) / 2;
    if (betaShare(middle, a, b) < probability) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
