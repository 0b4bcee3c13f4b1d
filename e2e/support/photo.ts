import type { Page } from '@playwright/test';

/** A JPEG as a phone writes it, with an EXIF segment that names a place; drawn by the browser of the test. */
export async function photoWithExif(page: Page): Promise<Buffer> {
  const url = await page.evaluate(() => {
    const canvas = document.createElement('canvas');
    canvas.width = 2400;
    canvas.height = 1800;
    const context = canvas.getContext('2d');
    if (context) {
      context.fillStyle = '#664';
      context.fillRect(300, 300, 900, 700);
    }
    return canvas.toDataURL('image/jpeg');
  });
  const jpeg = Buffer.from(url.split(',')[1] ?? '', 'base64');
  const body = Buffer.from('Exif\0\0GPS 52.1 N 4.3 E, somewhere');
  const segment = Buffer.concat([Buffer.from([0xff, 0xe1, 0, body.length + 2]), body]);
  return Buffer.concat([jpeg.subarray(0, 2), segment, jpeg.subarray(2)]);
}
