import type { InquiryHeld } from '@/core/inquiry/held';
import type { InquiryRead } from '@/core/inquiry/read-inquiry';
import type { Channel } from '@/core/message/channel';
import { consentStates } from '@/db/consent/consent';
import type { Source } from '@/db/inquiries/entities';
import type { Scope } from '@/db/kit/scope';
import type { Person } from '@/db/people/entities';
import { recordConsent } from '@/services/consent/record-consent';
import type { Context } from '@/services/kit/context';

interface Asked {
  person: Person;
  source: Source;
  read: InquiryRead;
  arrivalId: string;
}

/**
 * What an inquiry permits is written to the ledger: an answer, by each address that was given; or more, where a box was ticked
 * whose words are known. Who had opted out stays out, since nobody proved whose number it is; who asks for no texts gave no
 * consent to them, and is read by a human first. Gives why nothing is sent; null: it may be.
 */
export async function consentOfInquiry(
  ctx: Context,
  scope: Scope,
  asked: Asked,
): Promise<InquiryHeld | null> {
  const { person, read } = asked;
  if (person.stoppedAt !== null) return 'opted-out';
  const { number, email } = read.person;
  const outs: boolean[] = [];
  if (number !== null && !read.noTexts) outs.push(await agreeBy(ctx, scope, asked, 'sms', number));
  if (email !== undefined) outs.push(await agreeBy(ctx, scope, asked, 'email', email));
  const chat = read.person.further.find(({ kind }) => kind === 'chat');
  if (chat) outs.push(await agreeBy(ctx, scope, asked, 'chat', chat.value));
  if (outs.length > 0 && outs.every(Boolean)) return 'opted-out';
  return read.noTexts ? 'no-texts' : null;
}

/** True: they had left, and stay out. */
async function agreeBy(
  ctx: Context,
  scope: Scope,
  { person, source, read, arrivalId }: Asked,
  channel: Channel,
  address: string,
): Promise<boolean> {
  const { programId, wording, name } = source;
  const state = (await consentStates(scope, person.id, channel, address)).get(programId);
  if (state?.state === 'out') return true;
  const ticked = read.agreed && wording !== null;
  const again = state?.state === 'in' && !ticked;
  const recorded = await recordConsent(ctx, scope, {
    ...{ personId: person.id, programId, channel, address, kind: 'opted-in' as const },
    method: ticked ? 'form' : 'inquiry',
    evidence: {
      ...{ source: `inquiry, ${name}`, arrivalId },
      ...(ticked ? { wording } : {}),
      // Whoever asks once more may be answered for as long again, and has joined nothing anew.
      ...(again ? { again: true } : {}),
    },
  });
  return !recorded.ok && recorded.reason === 'opted-out-stays-out';
}
