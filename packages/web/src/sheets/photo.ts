import type { SheetRequest } from '@contactum/contract';

/** Longest edge of a photograph that is kept, pixels; and its largest size, characters of base64. */
const EDGE = 1280;
const LARGEST = 400_000;

/** A photograph small enough to be kept and sent. */
export async function smallPhoto(file: Blob): Promise<NonNullable<SheetRequest['photo']>> {
  const picture = await createImageBitmap(file);
  const scale = Math.min(1, EDGE / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  for (const quality of [0.82, 0.7, 0.55, 0.4, 0.25]) {
    const base64 = canvas.toDataURL('image/jpeg', quality).split(',')[1] ?? '';
    if (base64.length <= LARGEST) return { type: 'image/jpeg', base64 };
  }
  throw new Error('The photograph is too large.');
}
