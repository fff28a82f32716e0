import { escaped } from '../shared/escape';
import frame from './frame.json';

/** What an e-mail says, before it is made into parts. */
export interface Letter {
  subject: string;
  /** Paragraphs of plain words; an address of the web stands for itself. */
  body: string;
  footer: Footer;
}

/** What stands under it: whose it is, where they live, and how to leave. Null: it answers somebody, who needs none. */
export type Footer = {
  business: string;
  postalAddress: string | null;
  program: string;
  unsubscribeUrl: string;
} | null;

/** Addresses of the web in a text. What ends a sentence is none of it. */
const LINK = /https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)\]]/g;

/** Every address in a text, each once, in the order they stand. */
export const linksOf = (body: string): string[] => [...new Set(body.match(LINK) ?? [])];

/** The same text with other addresses in the places of its own: our own short ones, which count who came. */
export const withLinks = (body: string, links: ReadonlyMap<string, string>): string =>
  body.replace(LINK, (link) => links.get(link) ?? link);

/** The plain part (RFC 5322 lines are folded by who sends it). */
export function plainPart({ body, footer }: Letter): string {
  if (!footer) return body;
  const { business, postalAddress, program, unsubscribeUrl } = footer;
  return [
    body,
    '',
    '--',
    `You get this because you are in ${program} of ${business}.`,
    ...(postalAddress ? [postalAddress] : []),
    `Leave: ${unsubscribeUrl}`,
  ].join('\n');
}

/** Paragraphs and lines as HTML: words only, and links that say where they lead. */
export function paragraphs(text: string): string {
  return text
    .split(/\n{2,}/)
    .map((paragraph) => paragraph.trim())
    .filter((paragraph) => paragraph !== '')
    .map((paragraph) => `<p>${paragraph.split('\n').map(linked).join('<br>')}</p>`)
    .join('\n');
}

function linked(line: string): string {
  let html = '';
  let from = 0;
  for (const match of line.matchAll(LINK)) {
    const link = escaped(match[0]);
    html += `${escaped(line.slice(from, match.index))}<a href="${link}">${link}</a>`;
    from = match.index + match[0].length;
  }
  return html + escaped(line.slice(from));
}

/** The HTML part: the frame that was made from MJML at build time, with the words put in. */
export function htmlPart({ subject, body, footer }: Letter): string {
  const under = footer
    ? [
        `You get this because you are in ${escaped(footer.program)} of ${escaped(footer.business)}.`,
        ...(footer.postalAddress ? [escaped(footer.postalAddress)] : []),
        `<a href="${escaped(footer.unsubscribeUrl)}">Leave ${escaped(footer.program)}</a>`,
      ].join('<br>')
    : '';
  const parts: Record<string, string> = {
    SUBJECT: escaped(subject),
    BODY: paragraphs(body),
    FOOTER: under,
  };
  return frame.html.replace(/@@(SUBJECT|BODY|FOOTER)@@/g, (_, name: string) => parts[name]!);
}
