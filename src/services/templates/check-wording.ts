import type { Channel } from '@/core/message/channel';
import { parseNumber } from '@/core/phone/number';
import { DAY, type Millis } from '@/core/shared/instant';
import { checkWording } from '@/core/wording/check';
import type { WordingContext } from '@/core/wording/context';
import type { Finding } from '@/core/wording/finding';
import { readSource } from '@/core/wording/reading';
import { saysHowToStop } from '@/core/wording/rules/sender';
import { readHost } from '@/core/wording/settings';
import { toldOfPrograms } from '@/db/registration/told';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import type { Program } from '@/db/programs/entities';
import { itemOf, itemsIn } from '@/services/items/fill-items';
import { wordingsBetween } from '@/db/sends/broadcasts';

export interface WordingQuestion {
  /** Stored form: Unicode MessageFormat 2. */
  source: string;
  program: Pick<Program, 'id' | 'name' | 'promiseCount' | 'promisePeriod'> | null;
  channel: Channel;
  /** When it leaves. */
  at: Millis;
  /** The broadcast it is of, which is not compared with itself. */
  broadcastId?: string | null;
  /** How long the longest copy is, where that is known. */
  parts?: number | null;
  /** It answers somebody who wrote. */
  answers?: boolean;
}

const MONTH = 30 * DAY;

/** What there is to say about a wording, as this workspace weighs it. */
export async function findInWording(scope: Scope, question: WordingQuestion): Promise<Finding[]> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const context = await contextOf(scope, workspace, question);
  return checkWording(question.source, context, workspace.wording.weights);
}

async function contextOf(
  scope: Scope,
  workspace: Workspace,
  { source, program, channel, at, broadcastId = null, parts = null, answers = false }: WordingQuestion,
): Promise<WordingContext> {
  const span = { from: new Date(at - MONTH), to: new Date(at), except: broadcastId ?? '' };
  const rows = program ? await wordingsBetween(scope, { program: program.id, channel, ...span }) : [];
  const sent = rows.map((row) => ({ ...row, at: row.at.getTime() }));
  return {
    ...{ channel, at, zone: workspace.zone, country: workspace.country, parts, answers, sent },
    items: new Map([...(await itemsIn(scope, source))].map(([key, row]) => [key, itemOf(row)])),
    business: {
      name: workspace.business,
      kind: workspace.wording.kind,
      hosts: hostsOf(workspace),
      numbers: await ownNumbers(scope, workspace),
    },
    program: program && {
      name: program.name,
      promise:
        program.promiseCount === null ? null : { count: program.promiseCount, period: program.promisePeriod },
    },
    registered: program && !answers ? ((await toldOfPrograms(scope, program.id))[0]?.told ?? null) : null,
    optOutDue: !answers && !sent.some(({ source }) => saysHowToStop(readSource(source).text)),
  };
}

/** The hosts that are set, and those of their terms and privacy pages. Nothing set: nothing is foreign. */
function hostsOf({
  wording,
  termsUrl,
  privacyUrl,
}: Pick<Workspace, 'wording' | 'termsUrl' | 'privacyUrl'>): string[] {
  const pages = [termsUrl, privacyUrl].flatMap((url) => readHost(url ?? '') ?? []);
  return wording.hosts.length === 0 ? [] : [...new Set([...wording.hosts, ...pages])];
}

/** Numbers of theirs: those they send from, and where a human answers. */
async function ownNumbers(scope: Scope, { contact, country }: Workspace): Promise<string[]> {
  const senders = await scope.em.find(SenderNumberRow, { releasedAt: null });
  const answered = parseNumber(contact, country);
  return [...senders.map(({ number }) => number), ...(answered.ok ? [answered.value] : [])];
}
