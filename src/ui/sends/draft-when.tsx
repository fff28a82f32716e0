'use client';
import type { Channel } from '@/core/message/channel';
import { count, plural } from '@/ui/kit/numbers';
import { Problem } from '@/ui/kit/problem';
import { dayOf } from '@/ui/kit/time';
import { SpanOfHours } from '@/ui/kit/span-of-hours';
import { displayNumber } from '@/core/phone/number';
import { RepeatFields } from './draft-repeat';
import type { DraftReport } from './draft-report';
import type { DraftTiming, When } from './draft-values';

const HELD: Record<Channel, string> = {
  sms: 'whoever’s hours are closed gets it when they open',
  email: 'no law gives hours to letters, a program’s own still count',
  chat: 'whoever’s hours are closed gets it when they open',
  voicemail: 'whoever’s hours for calls are closed gets it when they open',
};

interface Props {
  id: string;
  channel: Channel;
  when: When;
  setWhen(when: When): void;
  timing: DraftTiming;
  setTiming(part: Partial<DraftTiming>): void;
  repeat: string;
  setRepeat(rule: string): void;
  senders: DraftReport['senders'];
  zone: string;
  problemOf(field: string): string | undefined;
}

/** When it leaves, in which hours, how fast, and from which numbers. */
export function WhenFields(props: Props) {
  const { channel, senders, problemOf } = props;
  return (
    <fieldset className="mt-6 border-t border-rule pt-3">
      <legend className="pr-3 font-head text-lg">When</legend>
      <Instant {...props} />
      <Problem>{problemOf('at') ?? problemOf('local')}</Problem>
      <Hours {...props} />
      <Problem>{problemOf('hours')}</Problem>
      <PaceFields
        id={props.id}
        calls={channel === 'voicemail'}
        pace={props.timing.pace}
        set={(pace) => props.setTiming({ pace })}
      />
      <Problem>{problemOf('pace')}</Problem>
      <RepeatFields rule={props.repeat} local={props.when.local} set={props.setRepeat} />
      <Problem>{problemOf('repeat')}</Problem>
      {channel === 'sms' && senders.length > 1 && <Senders {...props} />}
      <Problem>{problemOf('sender_numbers')}</Problem>
    </fieldset>
  );
}

function Instant({ id, channel, when, setWhen, zone }: Props) {
  const radio = (kind: When['kind'], label: string) => (
    <label className="flex items-center gap-2">
      <input
        type="radio"
        name={`${id}w`}
        checked={when.kind === kind}
        onChange={() => setWhen({ ...when, kind })}
      />{' '}
      {label}
    </label>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
      {radio('now', 'now, after ten seconds of grace')}
      {radio('at', 'at')}
      <input
        type="datetime-local"
        aria-label="Day and time"
        className="input w-auto!"
        value={when.local}
        onChange={(event) =>
          setWhen({ local: event.target.value, kind: when.kind === 'now' ? 'at' : when.kind })
        }
      />
      {radio('each', 'at that hour where each of them lives')}
      <span className="text-sm text-soft">
        {when.kind === 'each' ? 'their own clocks' : zone.replace('_', ' ')}; {HELD[channel]}
      </span>
    </div>
  );
}

function Hours({ timing: { hours }, setTiming }: Props) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={hours !== null}
          onChange={(event) =>
            setTiming({
              hours: event.target.checked ? { days: [1, 2, 3, 4, 5], from: '09:00', to: '18:00' } : null,
            })
          }
        />
        only on chosen days and hours of theirs
      </label>
      {hours && <SpanOfHours span={hours} set={(part) => setTiming({ hours: { ...hours, ...part } })} />}
    </div>
  );
}

/** How fast it goes. */
export function PaceFields({
  id,
  pace,
  set,
  calls = false,
}: {
  id: string;
  /** It brings calls back. */
  calls?: boolean;
  pace: DraftTiming['pace'];
  set(pace: DraftTiming['pace']): void;
}) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
      <label htmlFor={`${id}pace`}>How fast</label>
      <select
        id={`${id}pace`}
        className="input w-auto!"
        value={pace.kind}
        onChange={(event) => set({ ...pace, kind: event.target.value as DraftTiming['pace']['kind'] })}
      >
        {calls && <option value="phones">in waves, as the phones carry</option>}
        <option value="waves">in waves of my own</option>
        <option value="full">{calls ? 'all at once' : 'as fast as the numbers carry'}</option>
        <option value="rate">a few at a time</option>
        <option value="until">evenly until</option>
        {!calls && <option value="hands">by hand: somebody presses each</option>}
      </select>
      {pace.kind === 'hands' && (
        <label className="flex items-baseline gap-2">
          <input
            type="checkbox"
            checked={pace.adapt}
            onChange={({ target }) => set({ ...pace, adapt: target.checked })}
          />
          who presses may change the words
        </label>
      )}
      {pace.kind === 'rate' && (
        <>
          <input
            type="number"
            min={1}
            max={100_000}
            aria-label="People at a time"
            className="input w-24!"
            value={pace.people}
            onChange={(event) => set({ ...pace, people: event.target.value })}
          />
          <select
            aria-label="In a minute or an hour"
            className="input w-auto!"
            value={pace.per}
            onChange={(event) => set({ ...pace, per: event.target.value as 'minute' | 'hour' })}
          >
            <option value="minute">people a minute</option>
            <option value="hour">people an hour</option>
          </select>
        </>
      )}
      {pace.kind === 'waves' && (
        <>
          <input
            type="number"
            min={1}
            max={100_000}
            aria-label="People in a wave"
            className="input w-24!"
            value={pace.people}
            onChange={(event) => set({ ...pace, people: event.target.value })}
          />
          people every
          <input
            type="number"
            min={1}
            max={1_440}
            aria-label="Minutes between waves"
            className="input w-20!"
            value={pace.every}
            onChange={(event) => set({ ...pace, every: event.target.value })}
          />
          minutes
        </>
      )}
      {pace.kind === 'until' && (
        <input
          type="datetime-local"
          aria-label="Until"
          className="input w-auto!"
          value={pace.until}
          onChange={(event) => set({ ...pace, until: event.target.value })}
        />
      )}
    </div>
  );
}

/** The program’s numbers, what each would carry, and what that does to its cap. */
function Senders({ senders, timing, setTiming, zone }: Props) {
  const chosen = senders.filter((sender) => sender.chosen).map(({ id }) => id);
  const toggle = (id: string, on: boolean) => {
    const next = on ? [...chosen, id] : chosen.filter((one) => one !== id);
    setTiming({ senders: next.length === senders.length || next.length === 0 ? null : next });
  };
  return (
    <fieldset className="mt-3">
      <legend className="text-sm text-soft">
        From {timing.senders === null ? 'all numbers that fit' : plural(chosen.length, 'number')}
      </legend>
      <ul>
        {senders.map(({ id, number, registered, registeredBy, people, parts, sentToday, dailyCap }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1">
            <label className="flex items-baseline gap-2 tabular-nums">
              <input
                type="checkbox"
                checked={chosen.includes(id)}
                onChange={(event) => toggle(id, event.target.checked)}
              />
              {displayNumber(number)}
            </label>
            <span className="text-sm text-soft">
              {!registered
                ? `not registered${registeredBy === null ? '' : `, likely by ${dayOf(registeredBy, zone)}`}: carries nothing`
                : people === 0
                  ? 'carries nothing of it'
                  : `${plural(people, 'person', 'people')}, ${plural(parts, 'part')}`}
              {dailyCap !== null && <Cap today={sentToday} parts={parts} cap={dailyCap} />}
            </span>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}

const Cap = ({ today, parts, cap }: { today: number; parts: number; cap: number }) => (
  <span className={today + parts > cap ? 'text-bad' : ''}>
    {`; ${count(Math.min(cap, today + parts))} of ${count(cap)} a day`}
    {today + parts > cap && `, ${count(today + parts - cap)} wait for the next`}
  </span>
);
