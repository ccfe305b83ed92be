/** A complex number: impedance, admittance or phasor. */
export interface Complex {
  readonly re: number;
  readonly im: number;
}

export const complex = (re: number, im = 0): Complex => ({ re, im });
export const add = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
export const mul = (a: Complex, b: Complex): Complex => ({
  re: a.re * b.re - a.im * b.im,
  im: a.re * b.im + a.im * b.re,
});
export const scale = (a: Complex, k: number): Complex => ({ re: a.re * k, im: a.im * k });
export const abs = (a: Complex): number => Math.hypot(a.re, a.im);
export const inverse = (a: Complex): Complex => {
  const d = a.re * a.re + a.im * a.im;
  return { re: a.re / d, im: -a.im / d };
};
export const ZERO = complex(0);
/** The operator a = 1∠120°. */
export const A = complex(-0.5, Math.sqrt(3) / 2);
export const A2 = complex(-0.5, -Math.sqrt(3) / 2);
