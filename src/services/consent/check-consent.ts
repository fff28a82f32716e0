import { fold, NO_CONSENT, type Consent } from '@/core/consent/ledger';
import { lastPersonOfPage, ledgerPage, statePage } from '@/db/consent/consent';
import { inWorkspace } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

export interface ConsentDifference {
  personId: string;
  programId: string;
  channel: string;
  /** What the ledger says, and what is stored. */
  ledger: string;
  stored: string;
}

const PAGE = 2_000;

/** Folds the whole ledger of a workspace again and compares it with the stored states. Changes nothing. */
export async function checkConsent(
  ctx: Context,
  workspaceId: string,
): Promise<{ people: number; differences: ConsentDifference[] }> {
  const differences: ConsentDifference[] = [];
  let people = 0;
  for (let after: string | null = ''; after !== null;) {
    const from: string = after;
    after = await inWorkspace(ctx.orm, workspaceId, async (scope) => {
      const folded = foldPage(await ledgerPage(scope, from, PAGE));
      const stored = new Map(
        (await statePage(scope, from, PAGE)).map((row) => [
          `${row.personId}|${row.programId}|${row.channel}|${row.address}`,
          row.consent,
        ]),
      );
      for (const key of new Set([...folded.keys(), ...stored.keys()])) {
        const difference = compare(key, folded.get(key), stored.get(key));
        if (difference) differences.push(difference);
      }
      people += new Set([...folded.keys()].map((key) => key.split('|')[0])).size;
      return lastPersonOfPage(scope, from, PAGE);
    });
  }
  return { people, differences };
}

function foldPage(events: Awaited<ReturnType<typeof ledgerPage>>): Map<string, Consent> {
  const states = new Map<string, Consent>();
  for (const event of events) {
    const key = `${event.person_id}|${event.program_id}|${event.channel}|${event.address}`;
    states.set(
      key,
      fold(states.get(key) ?? NO_CONSENT, {
        id: event.id,
        kind: event.kind,
        method: event.method,
        at: event.at.getTime(),
      }),
    );
  }
  return states;
}

function compare(
  key: string,
  ledger: Consent | undefined,
  stored: Consent | undefined,
): ConsentDifference | null {
  const same =
    ledger?.state === stored?.state && ledger?.eventId === stored?.eventId && ledger?.wasIn === stored?.wasIn;
  if (same) return null;
  const [personId, programId, channel] = key.split('|', 3) as [string, string, string];
  return {
    personId,
    programId,
    channel,
    ledger: ledger?.state ?? 'nothing',
    stored: stored?.state ?? 'nothing',
  };
}
