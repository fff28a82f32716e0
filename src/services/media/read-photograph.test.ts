import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { newPoster } from '@/core/poster/document';
import { layOut } from '@/core/poster/layout';
import { readCallToAction, wordedCallToAction } from '@/core/program/call-to-action';
import { loadFaces } from '@/services/posters/faces';
import { posterFile } from '@/services/posters/files';
import { readPhotograph } from './read-photograph';

const CALL = {
  ...{ business: 'Juniper Gap Observatory', program: 'Clear Sky Alerts', contact: '(719) 555-0110' },
  ...{ purpose: 'marketing' as const, promise: { count: 6, period: 'month' as const }, keyword: 'sky' },
  numbers: ['+17195550110'],
  ...{ termsUrl: 'https://example.org/terms', privacyUrl: 'https://example.org/privacy' },
};

/** A poster as a telephone takes it: turned, soft, in poor light, as a JPEG. */
async function photograph(small: string): Promise<Buffer> {
  const { measure, outline } = await loadFaces();
  const said = { business: CALL.business, call: 'Text SKY to (719) 555-0110', offer: '', small };
  const layout = layOut(newPoster('Clear skies'), said, { measure, hasPicture: false });
  const code = [[true, false]];
  const png = await posterFile(
    { layout, findings: [], drawn: { outline, code, picture: null, says: '' } },
    'png',
  );
  const turned = await sharp(png).resize({ width: 1_400 }).rotate(2, { background: '#998877' }).toBuffer();
  return sharp(turned).blur(0.7).modulate({ brightness: 0.85 }).jpeg({ quality: 70 }).toBuffer();
}

const codes = async (bytes: Buffer): Promise<string[]> => {
  const read = await readPhotograph(bytes);
  if (!read.ok) throw new Error(read.reason);
  return readCallToAction(read.value, CALL).map(({ code }) => code);
};

describe('a photograph of a poster', () => {
  it('is read well enough to find nothing missing where nothing is, and what is missing where it is', async () => {
    const whole = wordedCallToAction(CALL, '(719) 555-0110');
    expect(await codes(await photograph(whole))).toEqual([]);
    const without = whole.replace('Reply HELP for help, STOP to stop.', '').replace(/Privacy: \S+/, '');
    expect(await codes(await photograph(without))).toEqual(['stop', 'help', 'privacy']);
  });

  it('that is none, or has no words, says so', async () => {
    expect(await readPhotograph(Buffer.from('<svg/>'))).toEqual({ ok: false, reason: 'no-picture' });
    const blank = await sharp({ create: { width: 400, height: 300, channels: 3, background: '#888' } })
      .png()
      .toBuffer();
    expect(await readPhotograph(blank)).toEqual({ ok: false, reason: 'nothing-read' });
  });
});
