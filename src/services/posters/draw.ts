import encodeQR from 'qr';
import { displayNumber } from '@/core/phone/number';
import { LONGEST_WORDS, type PosterDocument } from '@/core/poster/document';
import { layOut, POSTER_WORDS, type Layout, type Said } from '@/core/poster/layout';
import type { Drawn } from '@/core/poster/svg';
import {
  readCallToAction,
  wordedCallToAction,
  wordedForForm,
  type CallToAction,
  type Finding,
} from '@/core/program/call-to-action';
import { frequencyPhrase } from '@/core/text/wording';
import { Workspace } from '@/db/access/entities';
import { Form } from '@/db/forms/entities';
import type { Scope } from '@/db/kit/scope';
import { MediaFile } from '@/db/media/entities';
import { bytesIn } from '@/services/media/store';
import { Offer } from '@/db/offers/entities';
import type { Poster } from '@/db/posters/entities';
import { KeywordRow, Program } from '@/db/programs/entities';
import { formAddress } from '@/services/forms/screen';
import { promised } from '@/services/programs/change-program';
import { callToActionOf } from '@/services/programs/keyword-screen';
import { loadFaces } from './faces';

/** What a poster is of: what it says by rule, and where its code leads. */
interface Subject {
  said: Said;
  code: string;
  call: CallToAction;
  /** A form has no keyword and no number to text. */
  ofForm: boolean;
}

type Of = Pick<Poster, 'keywordId' | 'formId'>;

/** `sms:` with the keyword typed. Source: RFC 5724. */
const smsAddress = (number: string, keyword: string): string =>
  `sms:${number}?body=${encodeURIComponent(keyword.toUpperCase())}`;

export async function subjectOf(scope: Scope, { keywordId, formId }: Of): Promise<Subject | null> {
  return keywordId !== null ? ofKeyword(scope, keywordId) : formId === null ? null : ofForm(scope, formId);
}

async function ofKeyword(scope: Scope, id: string): Promise<Subject | null> {
  const call = await callToActionOf(scope, id);
  const keyword = call && (await scope.em.findOne(KeywordRow, { id }));
  if (!call || !keyword) return null;
  const number = call.numbers[0] ?? '';
  const said = {
    business: call.business,
    // A number is read in one piece.
    call: `Text ${keyword.word.toUpperCase()} to ${displayNumber(number).replaceAll(' ', '\u00a0')}`,
    offer: await offerWords(scope, keyword.offerId),
    small: wordedCallToAction(call, displayNumber(number), null),
  };
  return { said, call, code: smsAddress(number, keyword.word), ofForm: false };
}

async function ofForm(scope: Scope, id: string): Promise<Subject | null> {
  const form = await scope.em.findOne(Form, { id });
  if (!form) return null;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const program = await scope.em.findOneOrFail(Program, { id: form.programId });
  const call: CallToAction = {
    ...{ business: workspace.business, program: program.name, contact: workspace.contact },
    ...{ purpose: program.purpose, promise: promised(program), keyword: '', numbers: [] },
    ...{ termsUrl: workspace.termsUrl, privacyUrl: workspace.privacyUrl },
  };
  const address = formAddress(form);
  const said = {
    business: workspace.business,
    call: `Scan, or go to ${address.replace(/^https?:\/\//, '')}`,
    offer: await offerWords(scope, form.offerId),
    small: wordedForForm(call),
  };
  return { said, call, code: address, ofForm: true };
}

const offerWords = async (scope: Scope, id: string | null): Promise<string> =>
  (id && (await scope.em.findOne(Offer, { id, archivedAt: null }))?.words) || '';

/** A poster ready to become a file, with what is wrong with it. */
export interface Ready {
  layout: Layout;
  drawn: Drawn;
  findings: Pick<Finding, 'weight' | 'message'>[];
}

/** Draws a poster of a keyword or form. Null: what it is of is gone. */
export async function drawPoster(scope: Scope, of: Of, document: PosterDocument): Promise<Ready | null> {
  const subject = await subjectOf(scope, of);
  if (!subject) return null;
  const faces = await loadFaces();
  const { said, call } = subject;
  const picture = document.look.picture
    ? await scope.em.findOne(MediaFile, { id: document.look.picture })
    : null;
  const bytes = picture && (await bytesIn(scope, picture.id));
  const layout = layOut(document, said, { measure: faces.measure, hasPicture: bytes !== null });
  const says = [said.business, document.headline, document.words, said.call, said.offer, said.small];
  const text = says
    .filter(Boolean)
    .reduce((all, one) => `${all}${/[.!?]$/.test(all) ? '' : '.'} ${one}`)
    .replaceAll('\u00a0', ' ');
  const missing = faces.missing(text);
  return {
    layout,
    drawn: {
      outline: faces.outline,
      code: encodeQR(subject.code, 'raw', { ecc: 'medium', border: 4 }),
      picture: bytes && `data:${picture!.type};base64,${bytes.toString('base64')}`,
      says: text,
    },
    findings: [
      ...layout.problems.map((code) => ({ weight: 'must' as const, message: POSTER_WORDS[code] })),
      ...(missing.length > 0 ? [{ weight: 'must' as const, message: notDrawn(missing) }] : []),
      ...(call.numbers.length === 0 && !subject.ofForm
        ? [{ weight: 'must' as const, message: 'There is no number to text: give its program one first.' }]
        : []),
      ...readCallToAction(text, call)
        .filter(({ code }) => !subject.ofForm || (code !== 'keyword' && code !== 'number'))
        .map(({ weight, message }) => ({ weight, message })),
      ...differing(document, call),
    ],
  };
}

const notDrawn = (letters: readonly string[]): string =>
  `The faces that are shipped cannot draw ${letters.slice(0, 8).join(' ')}: leave ${letters.length === 1 ? 'it' : 'them'} out.`;

/** What the writer's own words promise beside what the program does. */
function differing(
  { headline, words }: PosterDocument,
  { promise }: CallToAction,
): Pick<Finding, 'weight' | 'message'>[] {
  const own = `${headline} ${words}`.slice(0, LONGEST_WORDS * 2).toLowerCase();
  const daily = /\b(daily|weekly|every (?:day|week|night))\b/.exec(own)?.[1];
  return daily
    ? [
        {
          weight: 'should',
          message: `It says “${daily}”, and the program promises “${frequencyPhrase(promise?.count ?? null, promise?.period ?? 'month')}”.`,
        },
      ]
    : [];
}
