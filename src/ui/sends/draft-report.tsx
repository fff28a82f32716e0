'use client';
import { REASON_WORDS, type ReasonCode } from '@/core/clearance/reasons';
import type { ClearanceReport } from '@/core/clearance/report';
import type { CostSpread } from '@/core/text/cost';
import type { Finding, Place } from '@/core/wording/finding';
import type { SwapOffer } from '@/core/text/swaps';
import type { Examples } from '@/core/broadcast/examples';
import { LINK_WORDS, type LinkReason } from '@/core/media/carriage';
import type { KeptFile } from '@/core/media/kinds';
import type { LinkChoice } from '@/core/link/shorten';
import type { LeavingPlan } from '@/core/broadcast/leaving';
import { WavePlanView, type ShownPlan } from '@/ui/voicemail/wave-plan';
import { LeavingChart } from './leaving-chart';
import { DraftLinks, type DraftLink } from './draft-links';
import { DraftSample, type Found } from './draft-sample';
import { Findings } from '@/ui/kit/findings';
import { Mark } from '@/ui/kit/mark';
import { count, plural } from '@/ui/kit/numbers';
import { dayAndTime, shortTime } from '@/ui/kit/time';

/** A number of the program, and what it would carry. */
interface DraftSender {
  id: string;
  number: string;
  registered: boolean;
  /** Until when it likely is, where it is not yet; null: nobody can say. */
  registeredBy: number | null;
  chosen: boolean;
  people: number;
  parts: number;
  sentToday: number;
  dailyCap: number | null;
}

export interface DraftReport {
  report: ClearanceReport;
  cost: CostSpread;
  /** Who gets a link instead of the files that go along, by why. */
  byLink: Partial<Record<LinkReason, number>>;
  toldFirst: number;
  /** Who is reached by another way, because they are not by this one; null: there is none. */
  letters: number | null;
  /** Who is told before or after it; null: nobody is. */
  companion: { people: number; blocked: number; credits: number } | null;
  /** What going by chat means; null: it does not. */
  chat: {
    people: number;
    credits: number;
    limit: number | null;
    later: number;
    lastAt: number | null;
  } | null;
  /** The waves a voicemail would go in; null or left out: it is none. */
  waves?: (ShownPlan & { price: number }) | null;
  creditsLeft: number;
  sample: {
    personId: string;
    name: string;
    subject: string | null;
    text: string;
    parts: number;
    alphabet: string | null;
    verdict: string;
    /** The files it carries; null: it is words. */
    media: readonly string[] | null;
    /** A letter as programs for mail show it; null: it is a text. */
    html: string | null;
  } | null;
  leaving: LeavingPlan;
  senders: DraftSender[];
  swaps: SwapOffer | null;
  findings: Finding[];
  /** Of several wordings those that must be mended. */
  open: number[];
  examples: Examples;
  links: DraftLink[];
  now: number;
}

export interface Wanted {
  verdict: 'cleared' | 'held' | 'blocked' | null;
  code: ReasonCode | null;
  label: string;
}

interface Props {
  data: DraftReport;
  /** Files that go along. */
  files: readonly KeptFile[];
  zone: string;
  /** It goes in waves as the phones carry. */
  inWaves?: boolean;
  /** Each goes when somebody presses. */
  byHand?: boolean;
  onOpen(wanted: Wanted): void;
  onSwap(text: string): void;
  onSample(personId: string): void;
  /** People of this audience who are called so. */
  find(called: string): Promise<Found[]>;
  /** What stands below how it reads. */
  afterSample: React.ReactNode;
  /** How its links are made. */
  links: LinkChoice;
  onLinks(links: LinkChoice): void;
  onShow(place: Place): void;
  onMend(mending: NonNullable<Finding['mending']>): void;
}

const VERDICTS = [
  { verdict: 'cleared', tone: 'good', word: 'cleared' },
  { verdict: 'held', tone: 'wait', word: 'held until later' },
  { verdict: 'blocked', tone: 'bad', word: 'blocked' },
] as const;

/** The consequence of a draft: who gets it, who not and why, what it costs, how it reads. */
export function DraftReportView({
  data,
  files,
  zone,
  inWaves = false,
  byHand = false,
  onOpen,
  onSwap,
  onShow,
  onMend,
  onSample,
  find,
  afterSample,
  links,
  onLinks,
}: Props) {
  return (
    <div className="space-y-6">
      <DraftSample data={data} files={files} onSample={onSample} find={find} />
      {afterSample}
      {!data.waves && (
        <section aria-live="polite">
          <h2 className="mb-1">Wording</h2>
          <Findings findings={data.findings} onShow={onShow} onMend={onMend} />
        </section>
      )}
      <section>
        <h2 className="mb-1">Clearance report</h2>
        <ul aria-live="polite">
          {VERDICTS.map(({ verdict, tone, word }) => (
            <li key={verdict} className="border-b border-rule py-1.5">
              <OpenLine
                n={data.report[verdict]}
                label={word}
                onOpen={() => onOpen({ verdict, code: null, label: word })}
              >
                <Mark tone={tone}>{word}</Mark>
              </OpenLine>
              <ul className="pl-5 text-sm">
                {data.report.lines
                  .filter(
                    ({ effect }) =>
                      (verdict === 'held' && effect === 'hold') ||
                      (verdict === 'blocked' && effect === 'block'),
                  )
                  .map((line) => (
                    <li key={line.code + line.effect} className="py-0.5">
                      <OpenLine
                        n={line.people}
                        label={REASON_WORDS[line.code].short}
                        onOpen={() =>
                          onOpen({ verdict, code: line.code, label: REASON_WORDS[line.code].short })
                        }
                      >
                        <span className="text-soft">
                          {REASON_WORDS[line.code].short}
                          {line.earliest !== null && `, until ${shortTime(line.earliest, data.now, zone)}`}
                          {line.latest !== null &&
                            line.latest !== line.earliest &&
                            ` to ${shortTime(line.latest, data.now, zone)}`}
                        </span>
                      </OpenLine>
                    </li>
                  ))}
              </ul>
            </li>
          ))}
        </ul>
        {data.letters !== null && (
          <p className="mt-1 text-sm text-soft">
            {plural(data.letters, 'person', 'people')} of them another way, since they cannot be reached by
            this one.
          </p>
        )}
      </section>
      {data.waves && <WavePlanView plan={data.waves} now={data.now} zone={zone} chosen={inWaves} />}
      {byHand && (
        <p className="mt-4 border-l-2 border-accent pl-3">
          It is sent by hand: nobody gets it before somebody presses. Once it is ready, split it into stacks.
        </p>
      )}
      {data.leaving.first !== null && !byHand && !(data.waves && inWaves) && (
        <section>
          <h2 className="mb-1">Leaves</h2>
          <LeavingChart plan={data.leaving} now={data.now} zone={zone} />
        </section>
      )}
      {data.links.length > 0 && <DraftLinks found={data.links} choice={links} change={onLinks} />}
      {data.chat && <ChatCost chat={data.chat} creditsLeft={data.creditsLeft} zone={zone} />}
      {data.waves && <DropCost data={data} price={data.waves.price} />}
      {data.companion && <ToldBeside told={data.companion} />}
      {data.cost.parts > 0 && <Cost data={data} onSwap={onSwap} />}
    </div>
  );
}

/** Who of those it reaches is told beside it, and what that costs. */
function ToldBeside({ told: { people, blocked, credits } }: { told: NonNullable<DraftReport['companion']> }) {
  return (
    <section>
      <h2 className="mb-1">Told beside it</h2>
      <p>
        {plural(people, 'person', 'people')}, {plural(credits, 'credit')} beside its own.
        {blocked > 0 && ` ${plural(blocked, 'person', 'people')} may not be told so.`}
      </p>
    </section>
  );
}

/** What voicemails cost, each the same. */
function DropCost({ data, price }: { data: DraftReport; price: number }) {
  const people = data.report.cleared + data.report.held - (data.letters ?? 0);
  const after = data.creditsLeft - people * price;
  return (
    <section>
      <h2 className="mb-1">Cost</h2>
      <p className={after < 0 ? 'text-bad' : ''}>
        {plural(people * price, 'credit')} for {plural(people, 'voicemail')} at {count(price)};{' '}
        {after < 0 ? `${count(-after)} credits are missing` : `${count(after)} left after it`}.
      </p>
    </section>
  );
}

function OpenLine({
  n,
  label,
  onOpen,
  children,
}: {
  n: number;
  label: string;
  onOpen(): void;
  children: React.ReactNode;
}) {
  return (
    <div className="flex items-baseline justify-between gap-3">
      {children}
      {n === 0 ? (
        <span className="text-soft">0</span>
      ) : (
        <button
          type="button"
          className="link"
          onClick={onOpen}
          aria-label={`${count(n)} people: ${label}. Show them`}
        >
          {count(n)}
        </button>
      )}
    </div>
  );
}

const costWords = ({ parts, pictures }: CostSpread): string =>
  [
    parts > pictures.people ? plural(parts - pictures.people, 'part') : '',
    pictures.people > 0 ? plural(pictures.people, 'picture message') : '',
  ]
    .filter(Boolean)
    .join(' and ');

function Cost({ data, onSwap }: { data: DraftReport; onSwap(text: string): void }) {
  const { cost, creditsLeft, swaps } = data;
  const after = creditsLeft - cost.credits;
  return (
    <section>
      <h2 className="mb-1">Cost</h2>
      <p className={after < 0 ? 'text-bad' : ''}>
        {plural(cost.credits, 'credit')} for {costWords(cost)};{' '}
        {after < 0 ? `${count(-after)} credits are missing` : `${count(after)} left after it`}.
      </p>
      <ul className="text-sm text-soft">
        {cost.groups.map((group) => (
          <li key={`${group.alphabet}${group.parts}`}>
            {plural(group.people, 'person', 'people')} × {plural(group.parts, 'part')} ({group.alphabet}
            {group.because.length > 0 && `, because of ${group.because.join(' ')}`})
          </li>
        ))}
        {cost.pictures.people > 0 && (
          <li>
            {plural(cost.pictures.people, 'person', 'people')} × 1 picture message (
            {plural(cost.pictures.credits, 'credit')})
          </li>
        )}
        {data.toldFirst > 0 && (
          <li>
            {plural(data.toldFirst, 'person is', 'people are')} told first that another number comes, since
            the one they know rests: a text each beside it
          </li>
        )}
        {(Object.entries(data.byLink) as [LinkReason, number][]).map(([why, people]) => (
          <li key={why}>
            {plural(people, 'person gets', 'people get')} a link to the files: {LINK_WORDS[why]}
          </li>
        ))}
      </ul>
      {swaps && (
        <p className="mt-2 border-l-2 border-accent pl-3 text-sm">
          {plural(swaps.swaps.length, 'character')} (
          {[...new Set(swaps.swaps.map(({ name }) => name))].join(', ')}) can be swapped for plain ones: over
          all of them {plural(swaps.partsBefore, 'part')} become {count(swaps.partsAfter)}.{' '}
          <button type="button" className="link" onClick={() => onSwap(swaps.text)}>
            Swap them
          </button>
        </p>
      )}
    </section>
  );
}

/** What it costs by chat, and what the network’s limit does to it. */
function ChatCost({
  chat: { people, credits, limit, later, lastAt },
  creditsLeft,
  zone,
}: {
  chat: NonNullable<DraftReport['chat']>;
  creditsLeft: number;
  zone: string;
}) {
  return (
    <section>
      <h2 className="mb-1">By chat</h2>
      <p className={creditsLeft < credits ? 'text-bad' : ''}>
        {plural(credits, 'credit')} for {plural(people, 'chat message')}; {count(creditsLeft)} are left now.
      </p>
      {limit !== null && (
        <p className="text-sm text-soft">
          The network lets you begin with {plural(limit, 'person', 'people')} a day.{' '}
          {later === 0
            ? 'All of them fit into today.'
            : `${plural(later, 'person', 'people')} wait for a later day; the last of them get it ${lastAt === null ? 'later' : dayAndTime(lastAt, zone)}.`}
        </p>
      )}
    </section>
  );
}
