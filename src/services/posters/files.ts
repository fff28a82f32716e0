import { Resvg } from '@resvg/resvg-js';
import type { Item, Layout } from '@/core/poster/layout';
import { modulesOf, posterSvg, type Drawn } from '@/core/poster/svg';
import type { Ready } from './draw';

export type FileKind = 'svg' | 'png' | 'pdf';

export const FILE_TYPES: Record<FileKind, string> = {
  svg: 'image/svg+xml; charset=utf-8',
  png: 'image/png',
  pdf: 'application/pdf',
};

const FILES: Record<FileKind, (ready: Ready) => Buffer | Promise<Buffer>> = {
  svg: ({ layout, drawn }) => Buffer.from(posterSvg(layout, drawn)),
  png: ({ layout, drawn }) => pngOf(layout, drawn),
  pdf: ({ layout, drawn }) => pdfOf(layout, drawn),
};

export const posterFile = (ready: Ready, kind: FileKind): Buffer | Promise<Buffer> => FILES[kind](ready);

/** Dots to the inch of a printed sheet; a screen has its own. */
const DPI = 300;

function pngOf(layout: Layout, drawn: Drawn): Buffer {
  const { width, unit } = layout.sheet;
  const wide = unit === 'px' ? width : Math.round((width / 25.4) * DPI);
  // Letters are outlines: no face of the machine is looked for.
  const font = { loadSystemFonts: false };
  const svg = posterSvg({ ...layout, sheet: { ...layout.sheet, unit: 'px' } }, drawn);
  return new Resvg(svg, { fitTo: { mode: 'width', value: wide }, font }).render().asPng();
}

const POINTS: Record<Layout['sheet']['unit'], number> = { mm: 72 / 25.4, px: 72 / 96 };

async function pdfOf({ sheet, ground, items }: Layout, drawn: Drawn): Promise<Buffer> {
  // Loaded with the first sheet, as what opens faces is: most processes print none.
  const { default: PDFDocument } = await import('pdfkit');
  const scale = POINTS[sheet.unit];
  const doc = new PDFDocument({
    ...{ size: [sheet.width * scale, sheet.height * scale], margin: 0 },
    info: { Title: drawn.says },
  });
  const chunks: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => chunks.push(chunk));
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('end', () => resolve(Buffer.concat(chunks)));
    doc.on('error', reject);
  });
  doc.scale(scale);
  doc.rect(0, 0, sheet.width, sheet.height).fill(ground);
  for (const item of items) {
    doc.save();
    drawItem(doc, item, drawn);
    doc.restore();
  }
  doc.end();
  return done;
}

function drawItem(doc: PDFKit.PDFDocument, item: Item, { outline, code, picture }: Drawn): void {
  switch (item.is) {
    case 'box':
      doc.rect(item.x, item.y, item.width, item.height).fill(item.fill);
      return;
    case 'text': {
      const path = outline(item.text, item.face, item.size);
      if (path !== '') doc.translate(item.x, item.y).path(path).fill(item.fill);
      return;
    }
    case 'picture':
      if (!picture) return;
      doc.rect(item.x, item.y, item.width, item.height).clip();
      doc.image(picture, item.x, item.y, {
        ...{ cover: [item.width, item.height], align: 'center', valign: 'center' },
      });
      return;
    case 'code':
      doc.rect(item.x, item.y, item.size, item.size).fill('#ffffff');
      doc.translate(item.x, item.y).scale(item.size / code.length);
      doc.path(modulesOf(code)).fill('#000000');
  }
}
