import damerau from 'talisman/metrics/damerau-levenshtein.js';
import type { OwnField } from '../people/values';
import { plain } from '../reply/normalise';

const APART = /[,;&+\n/]|\b(?:and|und|et|y)\b/i;
/** `not Sunday` names what is not meant. */
const NOT =
  /\b(?:not|no|never|except|but|without|minus|besides|dont|doesnt|isnt|cant|cannot|wont|hate|other than|rather than|instead of|less|sin|menos|excepto|salvo|sauf|pas|nicht|kein|ausser)\b/;
/** `1-3`: from one to the other, or these two. */
const FROM_TO = /\d\s*[-–]\s*\d/;
const ALL =
  /^(?:i (?:like|love|want) |give me )?(?:all|everything|all (?:of )?(?:it|them|those|these|the above)|all (?:two|three|four|five|\d)|every one|todos|todas|todo|tous|toutes|tout|alle|alles)(?: please| pls| thanks)?$/;
const ALL_BUT =
  /^(?:all|everything|all of (?:it|them|those|these)|anything|todos?|todas?|tous|tout) (?:except|but|besides|other than|minus|not|excepto|menos|salvo|sauf)(?: for)? (.+)$/;

/** What was chosen of the options, by name, by its number in the list, or one slip from a name that is like no other. Null: not surely one. */
export function choiceIn(
  { kind, options }: Pick<OwnField, 'kind' | 'options'>,
  text: string,
): readonly string[] | null {
  const whole = options.find((option) => plain(option) === plain(text));
  if (whole) return [whole];
  if (kind === 'one-of') {
    const one = optionOf(options, text);
    return one === null ? null : [one];
  }
  const bare = plain(text);
  if (ALL.test(bare)) return options;
  const [, but] = ALL_BUT.exec(bare) ?? [];
  if (but !== undefined) {
    const left = severalIn(options, but);
    return left && left.length < options.length ? options.filter((option) => !left.includes(option)) : null;
  }
  return severalIn(options, text);
}

function severalIn(options: readonly string[], text: string): string[] | null {
  if (FROM_TO.test(text)) return null;
  const parts = text.split(APART).filter((part) => plain(part) !== '');
  const found = parts.map((part) => optionOf(options, part));
  // With nothing between them but spaces each has to be named as it is.
  const all = found.includes(null)
    ? plain(text)
        .split(' ')
        .map((word) => named(options, word))
    : found;
  return all.length === 0 || all.includes(null) ? null : [...new Set(all as string[])];
}

function optionOf(options: readonly string[], text: string): string | null {
  const said = plain(text);
  const bare = said.replace(
    /^(?:the|number|no(?= \d)|option|its|i like|i love|id say|maybe|my favou?rite is) /,
    '',
  );
  const exactly = named(options, said) ?? named(options, bare);
  if (exactly) return exactly;
  const near = options.filter((option) => {
    const name = plain(option);
    return name.length >= 4 && damerau(bare, name) <= (name.length >= 8 ? 2 : 1);
  });
  if (near.length === 1) return near[0]!;
  const begun = said.length >= 3 ? options.filter((option) => plain(option).startsWith(said)) : [];
  if (begun.length === 1) return begun[0]!;
  if (NOT.test(said)) return null;
  const within = options.filter((option) => ` ${bare} `.includes(` ${plain(option)} `));
  return within.length === 1 ? within[0]! : null;
}

/** Named by an option's own words, or by its number. */
function named(options: readonly string[], bare: string): string | null {
  const number = /^(\d{1,2})(?:st|nd|rd|th)?$/.exec(bare)?.[1];
  return options.find((option) => plain(option) === bare) ?? (number && options[Number(number) - 1]) ?? null;
}
