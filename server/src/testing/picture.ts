import sharp from 'sharp';

/** A small JPEG, grey all over, as a device would send it. */
export const greyPicture = (): Promise<Buffer> =>
  sharp({ create: { width: 32, height: 24, channels: 3, background: '#888888' } })
    .jpeg()
    .toBuffer();
