import { describe, expect, it } from '@jest/globals';
import sharp from 'sharp';
import { redrawn } from './picture.ts';

/** Pictures are drawn anew: what is kept is what was seen, and nothing a file may carry besides. */

const scene = (width = 64, height = 48) =>
  sharp({ create: { width, height, channels: 3, background: { r: 150, g: 60, b: 20 } } });

describe('a picture', () => {
  it('is kept as it was seen, and nothing that stood behind or between', async () => {
    const jpeg = await scene().jpeg({ quality: 95 }).toBuffer();
    const comment = Buffer.from('hidden comment 4711');
    const length = Buffer.alloc(2);
    length.writeUInt16BE(comment.length + 2);
    const carrying = Buffer.concat([
      jpeg.subarray(0, 2),
      Buffer.from([0xff, 0xfe]),
      length,
      comment,
      jpeg.subarray(2),
      Buffer.from('<script>appended</script>'),
    ]);
    const drawn = await redrawn(carrying);
    expect(drawn.includes('4711')).toBe(false);
    expect(drawn.includes('script')).toBe(false);
    const { data, info } = await sharp(drawn).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([64, 48]);
    // What is lost by drawing anew is not seen.
    expect(Math.abs((data[0] ?? 0) - 150)).toBeLessThan(6);
    expect(Math.abs((data[2] ?? 0) - 20)).toBeLessThan(6);
  });

  it('that tells where it was taken is refused, before the picture begins or after it', async () => {
    const before = await scene()
      .withExif({ IFD3: { GPSLatitude: '47/1 3/1 0/1' } })
      .jpeg()
      .toBuffer();
    await expect(redrawn(before)).rejects.toThrow('without EXIF');
    const after = Buffer.concat([
      await scene().jpeg().toBuffer(),
      Buffer.from('\xff\xe1\x00\x20Exif\0\0place', 'latin1'),
    ]);
    await expect(redrawn(after)).rejects.toThrow('without EXIF');
  });

  it('that is none, another kind, cut short or damaged is refused', async () => {
    const jpeg = await scene(400, 300).jpeg().toBuffer();
    const noise = await sharp(Buffer.from(Array.from({ length: 120_000 }, (_, i) => (i * 2_654_435_761) % 251)), {
      raw: { width: 200, height: 200, channels: 3 },
    })
      .jpeg()
      .toBuffer();
    for (const bytes of [
      Buffer.from('this is no picture '.repeat(20)),
      Buffer.from('GIF89a……'),
      Buffer.alloc(0),
      await scene().png().toBuffer(),
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>'),
      jpeg.subarray(0, 200),
      noise.subarray(0, noise.length / 2),
    ])
      await expect(redrawn(bytes)).rejects.toThrow('A JPEG picture is accepted');
  });

  it('that unpacks to more than any camera takes is not unpacked; a large one is kept smaller', async () => {
    const bomb = await scene(9000, 9000).jpeg({ quality: 1 }).toBuffer();
    await expect(redrawn(bomb)).rejects.toThrow('JPEG picture is accepted');
    const { width, height } = await sharp(await redrawn(await scene(3000, 1500).jpeg().toBuffer())).metadata();
    expect([width, height]).toEqual([2400, 1200]);
  });
});
