import { areaCodeOf } from '../phone/number';

export type SenderKind = 'local' | 'toll-free' | 'short-code';
export type Registration = 'registered' | 'in-review' | 'question' | 'refused' | 'none';

/** A number texts are sent from. */
export interface SenderNumber {
  id: string;
  /** E.164, or the bare digits of a short code. */
  number: string;
  kind: SenderKind;
  sms: boolean;
  /** It sends picture messages. */
  mms: boolean;
  /** It can be called. */
  voice: boolean;
  registration: Registration;
  /** Texts the carrier takes from it in a day, and how many it took today; null: no cap. */
  dailyCap: number | null;
  sentToday: number;
  /** Parts a second the carrier takes from it. */
  partsPerSecond: number;
  /** The carrier it belongs to, by id. */
  carrier: string;
  /** Nothing is begun from it for a time; what is written to it is answered from it. */
  resting: boolean;
}

export type SenderChoice =
  | {
      ok: true;
      sender: SenderNumber;
      because: 'same-as-before' | 'same-area-code' | 'pool';
    }
  | { ok: false; reason: 'no-sender-number' | 'sender-cannot' | 'sender-unregistered' | 'sender-daily-cap' };

/**
 * The number a person is texted from: the one they know if it still can, else one of their area code, else
 * one of the pool by a fixed rule, so that the same person gets the same number whoever asks. A picture message leaves only
 * from one that sends those; what we begin, not from one that rests, unless all of them do.
 */
export function chooseSender(
  pool: readonly SenderNumber[],
  assignedId: string | null,
  personNumber: string,
  { pictures = false, begins = true }: { pictures?: boolean; begins?: boolean } = {},
): SenderChoice {
  if (pool.length === 0) return { ok: false, reason: 'no-sender-number' };
  const capable = pool.filter((sender) => (pictures ? sender.mms : sender.sms));
  if (capable.length === 0) return { ok: false, reason: 'sender-cannot' };
  const registered = capable.filter((sender) => sender.registration === 'registered');
  if (registered.length === 0) return { ok: false, reason: 'sender-unregistered' };
  const awake = begins ? registered.filter(({ resting }) => !resting) : registered;
  const usable = awake.length > 0 ? awake : registered;
  const hasRoom = (sender: SenderNumber) => sender.dailyCap === null || sender.sentToday < sender.dailyCap;
  const known = usable.find((sender) => sender.id === assignedId);
  if (known)
    return hasRoom(known)
      ? { ok: true, sender: known, because: 'same-as-before' }
      : { ok: false, reason: 'sender-daily-cap' };
  const open = usable.filter(hasRoom);
  if (open.length === 0) return { ok: false, reason: 'sender-daily-cap' };
  const neighbour = open.find(
    (sender) => areaCodeOf(sender.number) === areaCodeOf(personNumber) && areaCodeOf(personNumber),
  );
  if (neighbour) return { ok: true, sender: neighbour, because: 'same-area-code' };
  const digits = Number(personNumber.slice(-6)) || 0;
  return { ok: true, sender: open[digits % open.length]!, because: 'pool' };
}

/** The number a voicemail comes from, by the same rule: it only has to take calls. Null: none of them does. */
export function chooseCaller(
  pool: readonly SenderNumber[],
  assignedId: string | null,
  personNumber: string,
): SenderNumber | null {
  const callable = pool.map((one) => ({
    ...one,
    ...{ sms: one.voice, registration: 'registered' as const, dailyCap: null, resting: false },
  }));
  const choice = chooseSender(callable, assignedId, personNumber);
  return choice.ok ? choice.sender : null;
}
