import { escaped } from '../shared/escape';
import { MEDIA_KINDS, type MediaKind } from './kinds';

export interface ShownFile {
  id: string;
  kind: MediaKind;
  name: string;
  /** What a picture shows; empty: nobody said. */
  alt: string;
  type: string;
}

/** The page that shows the files of a text to who could not be sent them: no script, nothing fetched from elsewhere. */
export function mediaPage(business: string, files: readonly ShownFile[]): string {
  const title = escaped(business);
  return (
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><title>${title}</title>` +
    `<style>body{margin:0;background:#f4f1ea;color:#26231e;font:17px/1.5 ui-sans-serif,system-ui,sans-serif}main{max-width:44rem;margin:0 auto;padding:1rem}h1{font-size:1.1rem;border-bottom:1px solid #26231e;padding-bottom:.4rem}figure{margin:1rem 0}img,video{max-width:100%;height:auto;display:block}a{color:#8f3d1f}@media(prefers-color-scheme:dark){body{background:#1d1b18;color:#e9e4d8}a{color:#e59a78}h1{border-color:#e9e4d8}}</style></head>` +
    `<body><main><h1>${title}</h1>${files.map(figure).join('')}</main></body></html>`
  );
}

function figure({ id, kind, name, alt, type }: ShownFile): string {
  const [at, said, called] = [`/m/${escaped(id)}`, escaped(alt), escaped(name)];
  const caption = said === '' ? '' : `<figcaption>${said}</figcaption>`;
  switch (kind) {
    case 'picture':
      return `<figure><img src="${at}" alt="${said}">${caption}</figure>`;
    case 'film':
      return `<figure><video controls src="${at}"></video>${caption}</figure>`;
    case 'sound':
      return `<figure><audio controls src="${at}"></audio>${caption}</figure>`;
    case 'card':
    case 'paper':
      return `<p><a href="${at}" type="${escaped(type)}">${called}</a> (${MEDIA_KINDS[kind].word})</p>`;
  }
}
