import { PIVOT } from '../tolerances.js';

/** Looked up once: elimination calls it for every entry. */
const { abs } = Math;

/**
 * Dense complex linear system of growing size, reused from solution to solution: entries in two arrays,
 * row after row. Solved in place by Gaussian elimination with partial pivoting.
 */
export class ComplexSystem {
  size = 0;
  private re = new Float64Array(0);
  private im = new Float64Array(0);
  xRe = new Float64Array(0);
  xIm = new Float64Array(0);

  /** Clears the system to n unknowns. */
  reset(n: number): void {
    this.size = n;
    if (this.re.length < n * n) {
      this.re = new Float64Array(n * n);
      this.im = new Float64Array(n * n);
      this.xRe = new Float64Array(n);
      this.xIm = new Float64Array(n);
      return;
    }
    this.re.fill(0, 0, n * n);
    this.im.fill(0, 0, n * n);
    this.xRe.fill(0, 0, n);
    this.xIm.fill(0, 0, n);
  }

  /** Adds to one entry; an index of −1 is the reference node and is left out. */
  add(row: number, column: number, re: number, im: number): void {
    if (row < 0 || column < 0) return;
    const k = row * this.size + column;
    this.re[k]! += re;
    this.im[k]! += im;
  }

  /** Adds to the right-hand side. */
  inject(row: number, re: number, im: number): void {
    if (row < 0) return;
    this.xRe[row]! += re;
    this.xIm[row]! += im;
  }

  /** Stamps an admittance between two nodes. */
  admittance(a: number, b: number, re: number, im: number): void {
    this.add(a, a, re, im);
    this.add(b, b, re, im);
    this.add(a, b, -re, -im);
    this.add(b, a, -re, -im);
  }

  /**
   * Solves; the answer stands in xRe and xIm. Returns false where the matrix is singular to the scaled
   * pivot tolerance.
   */
  solve(): boolean {
    const { size: n, re, im, xRe, xIm } = this;
    let largest = 0;
    for (let k = 0; k < n * n; k += 1) {
      const size = abs(re[k]!) + abs(im[k]!);
      if (size > largest) largest = size;
    }
    for (let p = 0; p < n; p += 1) {
      let best = p;
      let bestSize = -1;
      for (let row = p; row < n; row += 1) {
        const k = row * n + p;
        const size = abs(re[k]!) + abs(im[k]!);
        if (size > bestSize) {
          best = row;
          bestSize = size;
        }
      }
      if (bestSize <= PIVOT * largest) return false;
      if (best !== p) this.swapRows(p, best);
      const pr = re[p * n + p]!;
      const pi = im[p * n + p]!;
      const d = pr * pr + pi * pi;
      for (let row = p + 1; row < n; row += 1) {
        const at = row * n;
        const ar = re[at + p]!;
        const ai = im[at + p]!;
        if (ar === 0 && ai === 0) continue;
        const fr = (ar * pr + ai * pi) / d;
        const fi = (ai * pr - ar * pi) / d;
        for (let c = p + 1; c < n; c += 1) {
          const br = re[p * n + c]!;
          const bi = im[p * n + c]!;
          re[at + c]! -= fr * br - fi * bi;
          im[at + c]! -= fr * bi + fi * br;
        }
        const xr = xRe[p]!;
        const xi = xIm[p]!;
        xRe[row]! -= fr * xr - fi * xi;
        xIm[row]! -= fr * xi + fi * xr;
      }
    }
    for (let row = n - 1; row >= 0; row -= 1) {
      let sr = xRe[row]!;
      let si = xIm[row]!;
      for (let c = row + 1; c < n; c += 1) {
        const ar = re[row * n + c]!;
        const ai = im[row * n + c]!;
        sr -= ar * xRe[c]! - ai * xIm[c]!;
        si -= ar * xIm[c]! + ai * xRe[c]!;
      }
      const pr = re[row * n + row]!;
      const pi = im[row * n + row]!;
      const d = pr * pr + pi * pi;
      xRe[row] = (sr * pr + si * pi) / d;
      xIm[row] = (si * pr - sr * pi) / d;
    }
    return true;
  }

  private swapRows(a: number, b: number): void {
    const { size: n, re, im, xRe, xIm } = this;
    for (const array of [re, im]) {
      for (let c = 0; c < n; c += 1) {
        const held = array[a * n + c]!;
        array[a * n + c] = array[b * n + c]!;
        array[b * n + c] = held;
      }
    }
    for (const array of [xRe, xIm]) {
      const held = array[a]!;
      array[a] = array[b]!;
      array[b] = held;
    }
  }
}
