/** Remarks on the wording of a text before it goes. They warn; clearance decides. */
export interface Remark {
  code: 'no-brand' | 'shouting' | 'link-shortener' | 'long' | 'risky-word' | 'opt-out-missing';
  message: string;
}

const SHORTENERS = /\b(bit\.ly|tinyurl\.com|t\.co|goo\.gl|ow\.ly)\b/i;
const RISKY = /\b(free money|act now|guaranteed|winner|risk[- ]free|100% free|cash prize|no obligation)\b/i;

/** `text` as one person gets it, `parts` its length. */
export function reviewWording(text: string, context: { business: string; parts: number }): Remark[] {
  const remarks: Remark[] = [];
  const add = (code: Remark['code'], message: string) => remarks.push({ code, message });
  const letters = text.replace(/[^\p{L}]/gu, '');
  const capitals = letters.replace(/[^\p{Lu}]/gu, '');
  if (!text.toLowerCase().includes(context.business.toLowerCase()))
    add('no-brand', `Name ${context.business}, so that people know who texts.`);
  if (letters.length > 20 && capitals.length / letters.length > 0.6)
    add('shouting', 'Mostly capitals: carriers filter it, people stop.');
  if (SHORTENERS.test(text))
    add('link-shortener', 'Public link shorteners are blocked by carriers: use your own address.');
  const risky = RISKY.exec(text);
  if (risky) add('risky-word', `"${risky[0]}" is often filtered as spam.`);
  if (context.parts > 3) add('long', `${context.parts} parts: most people read the first.`);
  if (!/\bstop\b/i.test(text))
    add('opt-out-missing', 'Say how to stop, such as "Reply STOP to stop", at least once a month.');
  return remarks;
}
