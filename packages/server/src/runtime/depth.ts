/** Deepest nesting of brackets in what is sent: documents here need a third of it. */
const DEEPEST = 60;

/** True of JSON that is nested more deeply than anything here; asked before it is parsed, in one pass. */
export function isDeep(text: string): boolean {
  let depth = 0;
  for (let k = 0; k < text.length; k += 1)
    switch (text.charCodeAt(k)) {
      case 0x22: // A string: on to its end.
        for (k += 1; k < text.length && text.charCodeAt(k) !== 0x22; k += 1)
          if (text.charCodeAt(k) === 0x5c) k += 1;
        break;
      case 0x5b:
      case 0x7b:
        depth += 1;
        if (depth > DEEPEST) return true;
        break;
      case 0x5d:
      case 0x7d:
        depth -= 1;
    }
  return false;
}
