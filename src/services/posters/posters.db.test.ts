import sharp from 'sharp';
import decodeQR from 'qr/decode.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  ARRANGEMENTS,
  newPoster,
  SHEETS,
  type Arrangement,
  type PosterDocument,
  type SheetName,
} from '@/core/poster/document';
import { KeywordRow } from '@/db/programs/entities';
import { changeWorkspace } from '@/services/access/change-workspace';
import { createForm } from '@/services/forms/forms';
import { keepFile } from '@/services/media/files';
import { bytesIn } from '@/services/media/store';
import { changeKeyword } from '@/services/programs/change-keyword';
import { createOffer } from '@/services/offers/offers';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { drawPoster } from './draw';
import { posterFile } from './files';
import { changePoster, createPoster } from './posters';

const ME = { name: 'test', accountId: null };
let world: World;
let keywordId: string;
beforeEach(async () => {
  world = await makeWorld();
  keywordId = (await world.within((scope) => scope.em.findOneOrFail(KeywordRow, { word: 'sky' }))).id;
});
afterEach(() => world.close());

const poster = (more: Partial<PosterDocument> = {}): PosterDocument => ({
  ...newPoster('Clear skies over the gap'),
  ...more,
});
const draw = (
  document: PosterDocument,
  of: { keywordId: string | null; formId: string | null } = { keywordId, formId: null },
) => world.within(async (scope) => (await drawPoster(scope, of, document))!);
const decoded = async (png: Buffer): Promise<string> => {
  const { data, info } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return decodeQR({ width: info.width, height: info.height, data });
};

describe('a poster', () => {
  it.each(
    (Object.keys(SHEETS) as SheetName[]).flatMap((sheet) =>
      (Object.keys(ARRANGEMENTS) as Arrangement[]).map((arrangement) => [sheet, arrangement] as const),
    ),
  )(
    'on %s, %s: its code is read from the picture, and everything stands on the sheet',
    async (sheet, arrangement) => {
      const ready = await draw(
        poster({ sheet, arrangement, words: 'We text you when the dome opens tonight.' }),
      );
      expect(await decoded(await posterFile(ready, 'png'))).toBe('sms:+17195550110?body=SKY');
      expect(ready.layout.problems).toEqual([]);
      const { width, height } = ready.layout.sheet;
      for (const item of ready.layout.items) {
        const [right, bottom] =
          item.is === 'text'
            ? [item.x, item.y]
            : item.is === 'code'
              ? [item.x + item.size, item.y + item.size]
              : [item.x + item.width, item.y + item.height];
        expect(Math.max(right / width, bottom / height), JSON.stringify(item)).toBeLessThanOrEqual(1.0001);
      }
    },
  );

  it('says what the rules ask for, and what is missing for it', async () => {
    const before = await draw(poster());
    expect(before.findings.map(({ message }) => message)).toEqual([
      expect.stringContaining('The terms are not linked'),
      expect.stringContaining('The privacy page is not linked'),
    ]);
    expect(before.drawn.says).toContain('Text SKY to (719) 555-0110');
    expect(before.drawn.says).toContain('Up to 6 msgs/month');
    const daily = await draw(poster({ words: 'Daily news from the dome.' }));
    expect(daily.findings.at(-1)!.message).toContain('It says “daily”');
    expect((await draw(poster({ headline: 'Clear 😀' }))).findings[0]!.message).toContain('cannot draw 😀');
    must(
      await world.within((scope) =>
        changeWorkspace(
          world.ctx,
          scope,
          { stamp: 0, terms_url: 'https://example.org/terms' } as never,
          'test',
        ),
      ),
    );
    expect((await draw(poster())).drawn.says).toContain('Terms: https://example.org/terms');
  });

  it('shows the offer of its keyword, and the picture of the business', async () => {
    const offer = must(
      await world.within((scope) =>
        createOffer(
          world.ctx,
          scope,
          { name: 'Free hour', words: 'One free hour in the dome.' } as never,
          ME,
        ),
      ),
    );
    must(
      await world.within((scope) =>
        changeKeyword(world.ctx, scope, keywordId, { stamp: 0, offer: offer.id } as never, 'test'),
      ),
    );
    const blue = await sharp({ create: { width: 900, height: 400, channels: 3, background: '#2244cc' } })
      .jpeg()
      .toBuffer();
    const picture = must(
      await world.within((scope) => keepFile(world.ctx, scope, { name: 'dome.jpg', bytes: blue }, ME)),
    );
    for (const arrangement of Object.keys(ARRANGEMENTS) as Arrangement[]) {
      const ready = await draw(poster({ arrangement, look: { colour: '#225588', picture: picture.id } }));
      expect(ready.drawn.says).toContain('One free hour in the dome.');
      const png = await posterFile(ready, 'png');
      expect(await decoded(png)).toBe('sms:+17195550110?body=SKY');
      const at = ready.layout.items.find((item) => item.is === 'picture')!;
      const { width } = await sharp(png).metadata();
      const scale = width / ready.layout.sheet.width;
      const pixel = await sharp(png)
        .extract({
          left: Math.round((at.x + 3) * scale),
          top: Math.round((at.y + 3) * scale),
          width: 1,
          height: 1,
        })
        .raw()
        .toBuffer();
      expect(pixel[2]! - pixel[0]!, arrangement).toBeGreaterThan(80);
    }
    const pdf = await posterFile(
      await draw(poster({ look: { colour: '#225588', picture: picture.id } })),
      'pdf',
    );
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(pdf.length).toBeGreaterThan(10_000);
  });

  it('of a form leads to the form', async () => {
    const form = must(
      await world.within((scope) =>
        createForm(world.ctx, scope, { name: 'Gate', program: 'Clear Sky Alerts' }, ME),
      ),
    );
    const ready = await draw(poster(), { keywordId: null, formId: form.id });
    expect(await decoded(await posterFile(ready, 'png'))).toContain(`/f/${form.code}`);
    expect(ready.findings.map(({ message }) => message.split(':')[0])).toEqual([
      'The terms are not linked',
      'The privacy page is not linked',
    ]);
  });

  it('lets nobody write markup, and says that words are too long', async () => {
    const ready = await draw(poster({ headline: '"><script>x</script>', words: '</svg><image href="x"/>' }));
    const svg = (await posterFile(ready, 'svg')).toString();
    expect(svg).not.toMatch(/<script|href="x"/);
    expect(svg.match(/<\/svg>/g)).toHaveLength(1);
    const refused = async (document: object) => {
      const made = await world.within((scope) =>
        createPoster(world.ctx, scope, { keyword: keywordId, document }, ME),
      );
      return made.ok ? 'taken' : made.reason.problems[0]!.message;
    };
    expect(await refused(poster({ words: 'x'.repeat(2_000) }))).toMatch(/words: at most 240 characters/);
    expect(await refused(poster({ headline: 'x'.repeat(2_000) }))).toMatch(/headline: at most 80/);
    expect(await refused(poster({ look: { colour: 'red; x' } }))).toMatch(/look\.colour/);
    expect(await refused(poster({ look: { colour: '#112233', picture: 'pic_none' } }))).toMatch(
      /no such picture/,
    );
    expect(
      (await draw(poster({ sheet: 'table-card', headline: 'W'.repeat(80), words: 'M'.repeat(240) }))).findings
        .length,
    ).toBeGreaterThan(0);
  });

  it('is of this workspace, and two who change it at once are told', async () => {
    const made = must(
      await world.within((scope) => createPoster(world.ctx, scope, { keyword: keywordId }, ME)),
    );
    const change = (stamp: number) =>
      world.within((scope) => changePoster(world.ctx, scope, made.id, { stamp, document: poster() }, 'test'));
    expect(await change(0)).toMatchObject({ ok: true });
    expect(await change(0)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    const { id } = await world.another();
    expect(
      await world.within((scope) => createPoster(world.ctx, scope, { keyword: keywordId }, ME), id),
    ).toMatchObject({ ok: false });
  });
});

describe('a picture', () => {
  const keep = (bytes: Buffer) =>
    world.within((scope) => keepFile(world.ctx, scope, { name: 'x.jpg', bytes }, ME));

  it('that is none is refused', async () => {
    for (const bytes of [
      Buffer.alloc(0),
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><image href="http://127.0.0.1/x"/></svg>'),
      Buffer.from('<html>'),
      Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    ])
      expect(await keep(bytes)).toMatchObject({ ok: false });
    const jpeg = await sharp({ create: { width: 60, height: 60, channels: 3, background: '#fff' } })
      .jpeg()
      .toBuffer();
    expect(await keep(jpeg.subarray(0, 200))).toMatchObject({ ok: false });
  });

  it('is made small and upright, and forgets where it was taken', async () => {
    const large = await sharp({ create: { width: 3000, height: 1000, channels: 3, background: '#a33' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    const kept = must(await keep(large));
    expect([kept.width, kept.height]).toEqual([533, 1600]);
    const bytes = await world.within((scope) => bytesIn(scope, kept.id));
    expect((await sharp(bytes!).metadata()).exif).toBeUndefined();
  });
});
