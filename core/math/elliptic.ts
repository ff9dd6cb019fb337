/**
 * Complete elliptic integrals of the first and second kind, K(m) and E(m), for 0 ≤ m < 1, by the arithmetic-geometric mean
 * (Abramowitz and Stegun, 17.6; from memory). `complement` is 1 − m, given by itself so that none of it is lost near 1.
 */
export function completeElliptic(complement: number): { readonly first: number; readonly second: number } {
  let [a, g, weight] = [1, Math.sqrt(complement), 0.5];
  // E = K·(1 − Σ 2^(k − 1)·ck²), of which c0² is m.
  let sum = weight * (1 - complement);
  for (let k = 0; k < 40 && Math.abs(a - g) > 1e-15 * a; k++) {
    const c = (a - g) / 2;
    [a, g] = [(a + g) / 2, Math.sqrt(a * g)];
    weight *= 2;
    sum += weight * c * c;
  }
  const first = Math.PI / (2 * a);
  return { first, second: first * (1 - sum) };
}
