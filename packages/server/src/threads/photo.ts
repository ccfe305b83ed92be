/** Runs in a thread: a photograph as it was sent becomes a picture and nothing else. */

/** Most pixels that are decoded, and the longer side that is kept. */
const MOST_PIXELS = 40_000_000;
const SIDE = 1_600;
const FORMATS: ReadonlySet<string | undefined> = new Set(['jpeg', 'png', 'webp']);

/**
 * Decodes a photograph and writes it anew as JPEG, upright and without metadata (place, camera,
 * thumbnails). Null of what is no picture, is none of the kinds that are taken, or is too large.
 */
export async function cleanPhoto({ data }: { readonly data: Uint8Array }): Promise<Uint8Array | null> {
  // Loaded in the thread that needs it: its library is large.
  const { default: sharp } = await import('sharp');
  try {
    const picture = sharp(data, { limitInputPixels: MOST_PIXELS, failOn: 'error', pages: 1 });
    if (!FORMATS.has((await picture.metadata()).format)) return null;
    return await picture
      .rotate()
      .resize({ width: SIDE, height: SIDE, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: 'white' })
      .jpeg({ quality: 82 })
      .toBuffer();
  } catch {
    return null;
  }
}
