import { SHORTENERS } from '../wording/words';
import type { BrandFile, ProgramFile } from './file';
import { RULES, SOURCES, type Rule, type Test } from './rules';
import { fillIn, missingOn, type PublicPage } from './sentences';

export interface RegistrationFinding {
  code: string;
  /** Of the file; `samples.1` is the second sample. */
  field: string;
  weight: 'must' | 'should';
  message: string;
  mend: string;
  /** Words ready to copy. */
  words: string | null;
  /** Where it is mended, where that is elsewhere. */
  place: string | null;
  source: string;
}

type Value = string | boolean | readonly string[];

/** What a brand's file lacks. `contact` is what stands in the sentences that are ready to copy. */
export function checkBrand(brand: BrandFile, business: string): RegistrationFinding[] {
  const found = check('brand', { ...brand }, business);
  if (brand.ourPages) return found;
  const known = { business, contact: brand.contactEmail || brand.contactPhone };
  const pages: [PublicPage, string, string][] = [
    ['privacy', 'privacyText', brand.privacyText],
    ['terms', 'termsText', brand.termsText],
  ];
  for (const [page, field, text] of pages) {
    // What was not pasted lacks everything: that is one finding, and not eleven.
    if (text.trim().length < 40) continue;
    for (const { code, missing, words, source } of missingOn(page, text))
      found.push({
        ...{ code, field, weight: 'must', source, place: null },
        message: `Your ${page === 'privacy' ? 'privacy page does' : 'terms do'} not say ${missing}.`,
        mend: 'Add the sentence below to the page, then paste the page anew.',
        words: fillIn(words, known),
      });
  }
  return found;
}

/** What a program's file lacks. */
export function checkProgram(program: ProgramFile): RegistrationFinding[] {
  const { business } = program;
  const values: Record<string, Value> = {
    ...{ about: program.about, content: program.content, samples: program.samples },
    ...{ links: program.links, calls: program.calls, adults: program.adults },
    ...{
      ways: program.ways.map(({ words }) => words),
      confirmation: program.confirmation,
      help: program.help,
    },
  };
  const found = check('program', values, business);
  for (const [i, way] of program.ways.entries())
    for (const { weight, message } of way.lacks)
      found.push({
        ...{ code: 'call-to-action', field: `ways.${i}`, weight, message: `${way.name}: ${message}` },
        ...{ mend: 'It is mended where people see it.', words: null, place: way.place, source: SOURCES.law },
      });
  return found;
}

function check(
  about: Rule['about'],
  values: Readonly<Record<string, Value>>,
  business: string,
): RegistrationFinding[] {
  const known = { business: literally(business.toLowerCase()), shorteners: shorteners() };
  return RULES.flatMap((rule): RegistrationFinding[] => {
    if (rule.about !== about) return [];
    if (rule.where && !rule.where.is.includes(values[rule.where.field] as string | boolean)) return [];
    const at = failing(rule.test, values[rule.field] ?? '', known);
    if (at === null) return [];
    const { code, field, weight, message, mend, source } = rule;
    return [
      {
        ...{ code, weight, message, mend, words: null, place: null, source: SOURCES[source] },
        field: at === 'all' ? field : `${field}.${at}`,
      },
    ];
  });
}

const shorteners = (): string => `\\b(?:${[...SHORTENERS].map(literally).join('|')})/`;

/** Where a value fails: at which text of several, or as a whole; null: it does not. */
function failing(test: Test, value: Value, known: Readonly<Record<string, string>>): number | 'all' | null {
  const several = typeof value === 'object';
  const texts = several ? value : [String(value)];
  switch (test.kind) {
    case 'filled':
      return texts.join('').trim().length < test.least ? 'all' : null;
    case 'matches':
      return texts.every((text) => text.trim() === '' || new RegExp(test.pattern).test(text.trim()))
        ? null
        : 'all';
    case 'several':
      return texts.length < test.least || texts.length > test.most ? 'all' : null;
    case 'differ': {
      const same = texts.findIndex((text, i) =>
        texts.slice(0, i).some((one) => plainly(one) === plainly(text)),
      );
      return same === -1 ? null : same;
    }
    default: {
      const says = (text: string) => new RegExp(fillIn(test.pattern, known)).test(text.toLowerCase());
      if (test.kind === 'some') return texts.length === 0 || texts.some(says) ? null : 'all';
      const at = texts.findIndex((text) => says(text) === (test.kind === 'lacks'));
      return at === -1 ? null : several ? at : 'all';
    }
  }
}

/** Text that stands for itself in a regular expression. */
const literally = (text: string): string => text.replace(/[.*+?^${}()|[\]\\/-]/g, '\\$&');

const plainly = (text: string): string => text.toLowerCase().replace(/\s+/g, ' ').trim();

/** What must be mended before it is handed in. */
export const mustsOf = (found: readonly RegistrationFinding[]): RegistrationFinding[] =>
  found.filter(({ weight }) => weight === 'must');
