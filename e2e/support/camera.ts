import { chromium, type Page } from '@playwright/test';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import QRCode from 'qrcode';
import { CHROMIUM } from './chromium.mjs';

/**
 * Writes a film of a label's code for Chromium's simulated camera: uncompressed YUV 4:2:0 (y4m), a few frames.
 *
 * @returns path of the file
 */
function filmOfLabel(text: string): string {
  const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' });
  const [width, height, cell] = [640, 480, 10];
  const left = Math.floor((width - modules.size * cell) / 2);
  const top = Math.floor((height - modules.size * cell) / 2);
  const luma = Buffer.alloc(width * height, 235);
  for (let y = 0; y < modules.size * cell; y += 1)
    for (let x = 0; x < modules.size * cell; x += 1)
      if (modules.get(Math.floor(y / cell), Math.floor(x / cell))) luma[(top + y) * width + left + x] = 16;
  const frame = Buffer.concat([Buffer.from('FRAME\n'), luma, Buffer.alloc((width * height) / 2, 128)]);
  const header = Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420mpeg2\n`);
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'label-')), 'label.y4m');
  writeFileSync(file, Buffer.concat([header, ...Array.from({ length: 10 }, () => frame)]));
  return file;
}

/** A browser of its own whose camera sees a label with this text. */
export async function withCameraOn(
  text: string,
  run: (page: Page) => Promise<void>,
  viewport = { width: 1280, height: 800 },
): Promise<void> {
  const browser = await chromium.launch({
    ...CHROMIUM,
    args: [
      ...CHROMIUM.args,
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${filmOfLabel(text)}`,
    ],
  });
  try {
    await run(await (await browser.newContext({ permissions: ['camera'], viewport })).newPage());
  } finally {
    await browser.close();
  }
}
