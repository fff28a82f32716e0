import type { FailureReason } from '@/core/delivery/failure';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { isRecord } from '@/core/shared/json';
import { ok, refuse, type Result } from '@/core/shared/result';
import type { VoicemailReport } from '@/core/voicemail/account';
import { doneBy, jsonBy, problemOf, type CallRefusal } from '../answered';
import { call, type Call, type Called } from '../call';
import type { SubmitOutcome } from '../carrier';

/** How an account is reached at who leaves voicemails: the interface is described in `docs/formats/voicemail-account.json`. */
export interface VoicemailAccess {
  url: string;
  account: string;
  token: string;
}

export interface OutgoingVoicemail {
  /** Ours, and the same at every try: an account takes it once, so that no phone rings twice. */
  reference: string;
  to: string;
  from: string;
  /** As the account calls it. */
  recording: string;
}

export interface Dropper {
  account(access: VoicemailAccess): Promise<Result<VoicemailReport, CallRefusal>>;
  /** Where it calls us back, and what it signs with. */
  register(
    access: VoicemailAccess,
    back: { url: string; secret: string },
  ): Promise<Result<null, CallRefusal>>;
  /** Brings a WAVE file, once for each reference. Gives what the account calls it. */
  bring(access: VoicemailAccess, reference: string, wave: Buffer): Promise<Result<string, CallRefusal>>;
  /** Never throws. A line that broke after it may have gone out is asked about before it is called unknown. */
  drop(access: VoicemailAccess, voicemail: OutgoingVoicemail): Promise<SubmitOutcome>;
  /** Whether it has a voicemail of ours; null: it cannot be asked now. */
  has(access: VoicemailAccess, reference: string): Promise<boolean | null>;
}

/** How the id of a voicemail is known to delivery, as the carrier’s id of a text part is. */
export const dropIdOf = (reference: string): string => `voicemail:${reference}`;

const ACCOUNT = { name: 'The voicemail account', kind: 'voicemail account' };

const FAILURES: Readonly<Record<string, FailureReason>> = {
  answered: 'answered',
  'box-full': 'box-full',
  'no-voicemail': 'no-voicemail',
  landline: 'no-voicemail',
  'carrier-refused': 'voicemail-refused',
  'number-gone': 'number-unknown',
  unreachable: 'unreachable',
  'unknown-recording': 'recording-refused',
};

/** Why an account says a voicemail could not be left, as a reason of ours. */
export const dropFailureCalled = (reason: unknown): FailureReason =>
  (typeof reason === 'string' ? FAILURES[reason] : undefined) ?? 'voicemail-refused';

/** Who leaves voicemails, over HTTP. `allowed`: hosts of private networks that may be called. */
export function voicemailDropper(allowed: readonly string[]): Dropper {
  const ask = (
    { url, account, token }: VoicemailAccess,
    { path, ...rest }: Omit<Call, 'token' | 'url'> & { path: string },
  ): Promise<Called> =>
    call(
      { ...rest, url: `${url.replace(/\/+$/, '')}/accounts/${encodeURIComponent(account)}${path}`, token },
      allowed,
    );
  const has = async (access: VoicemailAccess, reference: string): Promise<boolean | null> => {
    const path = `/drops/${encodeURIComponent(reference)}`;
    const called = await ask(access, { method: 'GET', path, timeoutMs: 5_000 });
    if (called.kind !== 'answered') return null;
    return called.status === 200 ? true : called.status === 404 ? false : null;
  };
  return {
    has,
    account: async (access) => {
      const body = jsonBy(await ask(access, { method: 'GET', path: '' }), ACCOUNT);
      if (!body.ok) return body;
      const report = readReport(body.value);
      return report
        ? ok(report)
        : refuse({ kind: 'refused', why: 'What answered there is no voicemail account.' });
    },
    register: async (access, back) =>
      doneBy(await ask(access, { method: 'PUT', path: '/callbacks', body: back }), ACCOUNT),
    bring: async (access, reference, wave) => {
      const path = `/recordings/${encodeURIComponent(reference)}`;
      const body = jsonBy(await ask(access, { method: 'PUT', path, body: wave, type: 'audio/wav' }), ACCOUNT);
      if (!body.ok) return body;
      const id = isRecord(body.value) ? body.value.id : null;
      return typeof id === 'string'
        ? ok(cutText(cleanText(id), 200))
        : refuse({ kind: 'refused', why: 'The account gave the recording no id.' });
    },
    drop: async (access, voicemail) => {
      const called = await ask(access, { method: 'POST', path: '/drops', body: voicemail });
      if (called.kind === 'unreachable') return { kind: 'not-written' };
      if (called.kind === 'answered') return outcomeOf(called, voicemail.reference);
      const known = await has(access, voicemail.reference);
      if (known === null) return { kind: 'unknown' };
      return known ? { kind: 'taken', carrierId: dropIdOf(voicemail.reference) } : { kind: 'not-written' };
    },
  };
}

function outcomeOf(called: Extract<Called, { kind: 'answered' }>, reference: string): SubmitOutcome {
  const { status } = called;
  // 409: it has it from an earlier try.
  if ((status >= 200 && status < 300) || status === 409)
    return { kind: 'taken', carrierId: dropIdOf(reference) };
  if (status === 429 || status >= 500) return { kind: 'refused', reason: 'voicemail-busy', status };
  return { kind: 'refused', reason: dropFailureCalled(problemOf(called).reason), status };
}

/** More credits for one voicemail are a mistake of whoever wrote them. */
const DEAREST = 1_000;

function readReport(body: unknown): VoicemailReport | null {
  if (!isRecord(body)) return null;
  const { state, price, name } = body;
  if (state !== 'open' && state !== 'closed') return null;
  if (!Number.isInteger(price) || (price as number) < 0 || (price as number) > DEAREST) return null;
  return {
    state,
    price: price as number,
    name: typeof name === 'string' ? cutText(cleanText(name), 80) : '',
  };
}
