import { ChoiceLink } from '@/ui/kit/choice-link';
import { addDays } from '@/core/audience/days';
import { CHANNELS, CHANNEL_WORDS } from '@/core/message/channel';
import { SPANS, type Span } from '@/core/results/spans';
import { plainDay } from '@/ui/kit/time';
import { Problem } from '@/ui/kit/problem';
import { resultsHref, type Look } from './look';

const PLACES = [
  { path: '/results', name: 'Overview' },
  { path: '/results/works', name: 'What works' },
  { path: '/results/keeping', name: 'Who stays' },
  { path: '/results/speed', name: 'How soon' },
] as const;
export type ResultsPath = (typeof PLACES)[number]['path'];

const SPAN_NAMES: Record<(typeof SPANS)[number], string> = {
  ...{ '7': '7 days', '28': '4 weeks', '91': '3 months', '364': 'a year' },
};

/** Where one is among results, over which days, and of what: the same on each of their pages. */
export function ResultsFrame({
  here,
  look,
  span,
  programs,
  problem,
  more = {},
  spanless = false,
}: {
  here: ResultsPath;
  look: Look;
  span: Span;
  programs: readonly { id: string; name: string }[];
  /** What is wrong with what was asked for; null: nothing. */
  problem: string | null;
  /** What else the page is asked for, and keeps. */
  more?: Record<string, string | undefined>;
  /** The page is of no span, and of all channels. */
  spanless?: boolean;
}) {
  const { program, channel } = look;
  return (
    <div className="mb-6">
      <nav aria-label="Results" className="mb-3 flex flex-wrap gap-x-5 gap-y-1">
        {PLACES.map(({ path, name }) => (
          <ChoiceLink key={path} href={resultsHref(path, look)} isOn={path === here}>
            {name}
          </ChoiceLink>
        ))}
      </nav>
      <form action={here} className="flex flex-wrap items-end gap-x-5 gap-y-3 border-y border-rule py-2.5">
        {Object.entries(more).map(([name, value]) =>
          value ? <input key={name} type="hidden" name={name} value={value} /> : null,
        )}
        {!spanless && <SpanChoice here={here} look={look} span={span} more={more} />}
        <label className="text-sm text-soft">
          Program
          <select name="program" defaultValue={program ?? ''} className="input ml-2 w-44">
            <option value="">all</option>
            {programs.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {!spanless && (
          <label className="text-sm text-soft">
            Channel
            <select name="channel" defaultValue={channel ?? ''} className="input ml-2 w-28">
              <option value="">all</option>
              {CHANNELS.map((one) => (
                <option key={one} value={one}>
                  {CHANNEL_WORDS[one].message}
                </option>
              ))}
            </select>
          </label>
        )}
        <button className="button">Show</button>
      </form>
      <Problem>{problem}</Problem>
    </div>
  );
}

/** Spans that end with yesterday, and any other by its first and last day. */
function SpanChoice({
  here,
  look,
  span,
  more,
}: {
  here: ResultsPath;
  look: Look;
  span: Span;
  more: Record<string, string | undefined>;
}) {
  const { program, channel } = look;
  return (
    <>
      <div role="group" aria-label="Over" className="flex flex-wrap gap-x-4">
        {SPANS.map((days) => {
          const isOn = look.from === undefined && (look.days ?? '28') === days;
          const href = resultsHref(here, { program, channel, days }, more);
          return (
            <ChoiceLink key={days} href={href} isOn={isOn} is="true">
              {SPAN_NAMES[days]}
            </ChoiceLink>
          );
        })}
      </div>
      <label className="text-sm text-soft">
        From
        <input
          type="date"
          name="from"
          defaultValue={look.from ?? span.from}
          key={span.from}
          className="input ml-2 w-36"
        />
      </label>
      <label className="text-sm text-soft">
        to
        <input
          type="date"
          name="to"
          defaultValue={look.to ?? addDays(span.until, -1)}
          key={span.until}
          className="input ml-2 w-36"
        />
      </label>
    </>
  );
}

/** A span in words: its first and its last day. */
export const spanWords = ({ from, until }: Span): string =>
  `${plainDay(from)} to ${plainDay(addDays(until, -1))}`;
