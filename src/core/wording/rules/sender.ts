import { OPT_OUT_WORDS } from '../../reply/words';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import type { Reading } from '../reading';

/** Words that add nothing to a name: one that is left out is still the name. */
const FILLERS = /\b(?:the|a|an|and|of|at|de|la|le|el|inc|llc|ltd|co|gmbh|company)\b/g;

const unaccented = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '');

const plainWords = (text: string): string[] =>
  unaccented(text)
    .toLowerCase()
    .replace(/[’']s\b/g, '')
    .replace(/[’']/g, '')
    .replace(/&/g, ' and ')
    .replace(FILLERS, ' ')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** A name counts by its first two words, by its first where that is written as a name, run together, or by its initials. */
function names(text: string, name: string): boolean {
  const [said, wanted] = [plainWords(text), plainWords(name)];
  if (wanted.length === 0) return false;
  const spoken = ` ${said.join(' ')} `;
  const short = wanted.slice(0, 2).join(' ');
  const [first] = wanted as [string];
  const alone =
    first.length >= 4 &&
    new RegExp(
      `(?<!\\p{L})${first[0]!.toUpperCase()}(?:${first.slice(1)}|${first.slice(1).toUpperCase()})(?!\\p{L})`,
      'u',
    );
  const initials = wanted.map((word) => word[0]).join('');
  return (
    spoken.includes(` ${short} `) ||
    (alone && alone.test(unaccented(text))) ||
    said.some((word) => word.startsWith(wanted.slice(0, 2).join('')) && word.length > 3) ||
    (initials.length >= 3 && new RegExp(`\\b${initials.toUpperCase()}\\b`).test(text))
  );
}

/** The host of a link names nobody: few read it. */
const LINKS = /\b(?:https?:\/\/|www\.)\S+|(?<![^\s/])[^\s/]{1,80}\.\p{L}{2,24}\/\S*/giu;

export function noSender(reading: Reading, { business, program, answers, channel }: WordingContext): Found[] {
  const { fields } = reading;
  const text = reading.text.replace(LINKS, ' ');
  // A letter says so above its first line.
  if (
    answers ||
    channel === 'email' ||
    fields.some(({ name }) => name === 'business.name' || name === 'program.name')
  )
    return [];
  if (names(text, business.name) || (program && names(text, program.name))) return [];
  return [
    {
      message: `Say who writes: people delete what they cannot place. Name ${business.name}.`,
      place: null,
      mending: {
        label: `Begin with “${business.name}:”`,
        changes: [{ from: 0, to: 0, insert: `${business.name}: ` }],
      },
    },
  ];
}

const WORDS = [...OPT_OUT_WORDS].filter((word) => !word.includes(' ')).join('|');
const SAYS =
  'reply|text|txt|send|answer|respond|msg|message|write|type|responde|envia|répondez|envoyez|repondez';
const TO_END =
  'stop|end|quit|cancel|opt[ -]?out|opt[ -]?-?out|unsub(?:scribe)?|leave|no more|be removed|get off|out|parar|salir|arrêter|arreter|cancelar';

/**
 * "Reply STOP to stop", "STOP = unsubscribe", "Txt STOP 2 end", "To opt out, text STOP". "Stop by tonight" and "next
 * stop: Saturn" are none: the word is given to be sent, or what it does is said.
 */
const HOW_TO_STOP: readonly RegExp[] = [
  new RegExp(
    `\\b(?:${SAYS})\\b(?:\\s+(?:with|us|the word|back|con|avec))?[\\s:"'“”‘’*(]{1,4}(?:${WORDS})\\b(?!\\s+by\\b)`,
    'iu',
  ),
  new RegExp(
    `\\b(?:STOP|END|QUIT|CANCEL|UNSUBSCRIBE|OPTOUT|ALTO|PARAR|ARRET|ARRÊT)\\b["'”’*)]*\\s*(?:to|2|=|:|->|→|for|any ?time|ends?|stops?|cancels?|unsubscribes?|para|pour|at any time|when(?:ever)?)\\s*(?:${TO_END}|you|you'd)?`,
    'u',
  ),
  new RegExp(`\\b(?:to|2)\\s+(?:${TO_END})\\b.{0,30}\\b(?:${WORDS})\\b`, 'iu'),
  /\b(?:stop|end|leave|quit|cancel) (?:these |our |the |all |any )?(?:texts?|msgs?|messages?|alerts?)\W{1,3}(?:reply |text |send |txt )?STOP\b/iu,
  /\b(?:unsubscribe|opt[ -]?out)\b.{0,20}(?:https?:|\bSTOP\b)/iu,
];

/** Whether it tells people how to stop. */
export const saysHowToStop = (text: string): boolean => HOW_TO_STOP.some((pattern) => pattern.test(text));

const missing = (reading: Reading, message: string): Found[] => [
  {
    message,
    place: null,
    mending: {
      label: 'Add “Reply STOP to stop.”',
      changes: [
        {
          from: reading.source.trimEnd().length,
          to: reading.source.length,
          insert: `${/[.!?:)]$/.test(reading.text.trimEnd()) ? '' : '.'} Reply STOP to stop.`,
        },
      ],
    },
  },
];

/** A letter has its own way to leave under it, and an answer is asked for. */
const needsNone = (reading: Reading, { channel, answers }: WordingContext): boolean =>
  channel === 'email' || answers || saysHowToStop(reading.text);

export const optOutDue = (reading: Reading, context: WordingContext): Found[] =>
  needsNone(reading, context) || !context.optOutDue
    ? []
    : missing(
        reading,
        'Nothing within a month told these people how to stop: say it now, such as “Reply STOP to stop”.',
      );

export const optOutMissing = (reading: Reading, context: WordingContext): Found[] =>
  needsNone(reading, context) || context.optOutDue
    ? []
    : missing(reading, 'It does not say how to stop. It was said within a month, so it may be left out.');
