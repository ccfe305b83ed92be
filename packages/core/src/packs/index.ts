/** Evidence packs: what an attempt was marked from, with a signed list of its files. */
export {
  MANIFEST,
  SIGNATURE,
  checkPack,
  fileOf,
  keyFingerprint,
  manifestBytes,
  packWarnings,
} from './pack.js';
export type { Manifest, PackCheck, PackFile, Verify } from './pack.js';
export { markWork, type PackWork } from './work.js';
