import sharp from 'sharp';

/** What is sent is no picture that can be drawn; the message says what would be accepted. */
export class NoPicture extends Error {}

/** More than any camera of a tablet takes; what unpacks to more is not unpacked. */
const MOST_PIXELS = 40_000_000;
/** A picture is kept no longer than this on its longer side, pixels. */
const LONGEST = 2400;
const QUALITY = 85;

// One picture at a time in each thread, and none kept in memory after it was drawn.
sharp.concurrency(1);
sharp.cache(false);

/** What tells where and by what a picture was taken, wherever in the file it stands. */
const EXIF = Buffer.from('Exif\0\0', 'latin1');

/**
 * A JPEG drawn anew: only what is seen in it is kept, nothing else that a file may carry.
 *
 * @throws NoPicture where it is none, is cut short or damaged, carries EXIF, or is larger than 40 million pixels
 */
export async function redrawn(bytes: Buffer): Promise<Buffer> {
  if (bytes.includes(EXIF)) throw new NoPicture('A picture without EXIF is accepted; it may tell where it was taken.');
  try {
    const picture = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'warning' });
    const { format } = await picture.metadata();
    if (format !== 'jpeg') throw new NoPicture('A JPEG picture is accepted.');
    return await picture
      .resize({ width: LONGEST, height: LONGEST, fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: QUALITY })
      .toBuffer();
  } catch (error) {
    if (error instanceof NoPicture) throw error;
    throw new NoPicture('A JPEG picture is accepted; this one can’t be drawn: it is none, is cut short or damaged.');
  }
}
