import { findPhoneNumbersInText, type CountryCode } from 'libphonenumber-js/max';
import { CONTENT, type ContentKind } from '../../registration/file';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';
import { linksIn } from './links';

/** Words by which reviewers, too, know a kind of content that needs to be told of. */
const SIGNS: Partial<Record<ContentKind, RegExp>> = {
  offers:
    /\b\d{1,3} ?% off\b|\$\d+ off\b|\bhalf[ -]price\b|\bdiscounts?\b|\bcoupons?\b|\bvouchers?\b|\bspecial offers?\b|\bon sale\b|\bpromo code\b/giu,
  giving: /\bdonat(?:e|es|ing|ions?)\b|\bpledges?\b|\bgive \$\d+|\bfundrais(?:er|ers|ing)\b/giu,
  voting:
    /\bvot(?:e|es|ing) (?:for|on|yes|no|early)\b|\bballots?\b|\belections?\b|\bcandidates?\b|\bpolling place\b/giu,
};

/** What the text holds and the reviewer of its numbers was not told of: carriers stop numbers for it. */
export function notRegistered(reading: Reading, { registered, country, channel }: WordingContext): Found[] {
  if (registered === null || channel !== 'sms') return [];
  const say = (what: string, place: Found['place']): Found => ({
    message: `The reviewer of its numbers was ${what}. Hand in the change first, or leave it out.`,
    place,
    mending: null,
  });
  const [link] = registered.links ? [] : linksIn(reading).filter(({ scheme }) => scheme !== 'tel');
  const [number] = registered.calls ? [] : findPhoneNumbersInText(reading.text, country as CountryCode);
  const kinds = (Object.entries(SIGNS) as [ContentKind, RegExp][]).filter(
    ([kind]) => !registered.content.includes(kind),
  );
  return [
    ...(link ? [say('told that texts hold no links', link.place)] : []),
    ...(number
      ? [say('told that texts hold no numbers to call', reading.place(number.startsAt, number.endsAt))]
      : []),
    ...kinds.flatMap(([kind, signs]) => {
      const [first] = findAll(reading, signs);
      return first ? [say(`not told of ${CONTENT[kind]}`, placeOf(reading, first))] : [];
    }),
  ];
}
