/** Longest edge of a kept photo, pixels. */
const LONGEST = 1600;
const MOST_BYTES = 1_400_000;

/**
 * Shrinks a picture in the browser and draws it anew as JPEG, so that nothing of EXIF (place, device, time) is left.
 *
 * @throws Error in words where the file is no picture
 */
export async function shrinkPhoto(file: Blob): Promise<Blob> {
  const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' }).catch(() => {
    throw new Error('This file is no picture that the browser can read.');
  });
  const scale = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(bitmap.width * scale));
  canvas.height = Math.max(1, Math.round(bitmap.height * scale));
  canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  bitmap.close();
  for (const quality of [0.82, 0.65, 0.45]) {
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/jpeg', quality));
    if (blob && blob.size <= MOST_BYTES) return blob;
  }
  throw new Error('The picture could not be made small enough.');
}
