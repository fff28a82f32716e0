import type { NetworkTemplate } from './book';

/** What the network takes. It tells so with each account. */
export const LIMITS = {
  ...{ name: 60, header: 60, body: 1_024, footer: 60, text: 4_096, quick_replies: 3, links: 2, calls: 1 },
  ...{ button: 25, variables: 12, file: 5_000_000 },
};

export const PRICES = { marketing: 4, utility: 2, authentication: 2, conversation: 1 };

const length = (text: string): number => [...text].length;

/** What is wrong with the form of a template; null: nothing. */
export function misshapen(template: NetworkTemplate): string | null {
  const { name, language, category, header, body, footer, buttons, samples } = template;
  if (typeof name !== 'string' || !/^[a-z][a-z0-9_]{0,59}$/.test(name))
    return 'name: small letters, digits and low lines.';
  if (typeof language !== 'string' || !/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/.test(language))
    return 'language: a BCP 47 tag.';
  if (!['marketing', 'utility', 'authentication'].includes(category))
    return 'category: marketing, utility or authentication.';
  if (!Array.isArray(body) || body.length === 0) return 'body: a list of texts and variables.';
  if (header && length(header.text) > LIMITS.header) return 'header: too long.';
  if (footer && length(footer) > LIMITS.footer) return 'footer: too long.';
  if (body.reduce((sum, piece) => sum + ('text' in piece ? length(piece.text) : 1), 0) > LIMITS.body)
    return 'body: too long.';
  const variable = (i: number) => body.at(i) !== undefined && 'variable' in body.at(i)!;
  if (variable(0) || variable(-1)) return 'body: begins or ends with a variable.';
  if (body.some((_, i) => i > 0 && variable(i) && variable(i - 1)))
    return 'body: two variables side by side.';
  for (const piece of body)
    if ('variable' in piece && !samples?.[piece.variable]) return `samples: none for ${piece.variable}.`;
  const most = { reply: LIMITS.quick_replies, link: LIMITS.links, call: LIMITS.calls };
  for (const kind of ['reply', 'link', 'call'] as const)
    if (buttons.filter((one) => one.kind === kind).length > most[kind])
      return `buttons: too many of the kind ${kind}.`;
  return buttons.some(({ words }) => length(words) > LIMITS.button) ? 'buttons: too long.' : null;
}

/** Why a reviewer refuses it; null: they do not. */
export function objection({ category, header, body, footer, buttons }: NetworkTemplate): string | null {
  const words = [
    header?.text ?? '',
    ...body.map((piece) => ('text' in piece ? piece.text : '')),
    footer ?? '',
  ].join(' ');
  if (/\b(guaranteed|free money|winner|act now|100 ?%)\b/i.test(words))
    return 'It promises what nobody can keep, or presses people to act. Say what it is, plainly.';
  if (category === 'utility' && /\b(sale|discount|offer|% off|join us|come and see)\b/i.test(words))
    return 'This reads as marketing, and the category says utility.';
  if (/[A-Z]{12,}/.test(words.replace(/\s/g, ''))) return 'Capital letters only: nobody reads shouting.';
  return buttons.some(({ url }) => url?.startsWith('http://'))
    ? 'A button must lead to an encrypted page.'
    : null;
}
