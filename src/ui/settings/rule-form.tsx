'use client';
import { useState } from 'react';
import { allowsMore } from '@/core/clearance/own-rules';
import type { HoursRule, HoursWindow } from '@/core/clearance/rules';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { SpanOfHours } from '@/ui/kit/span-of-hours';

const MOST_SPANS = 3;

/** A rule of hours of one's own for a place: its spans, its limit and where it stands. */
export function RuleForm({
  action,
  where,
  rule,
  places,
}: {
  action(state: FormState, data: FormData): Promise<FormState>;
  /** Null: one is chosen from `places`. */
  where: string | null;
  rule: HoursRule;
  places: { value: string; label: string }[];
}) {
  const [place, setPlace] = useState(where ?? places[0]?.value ?? '');
  const [windows, setWindows] = useState<HoursWindow[]>(rule.windows);
  const [limit, setLimit] = useState(rule.limit ?? null);
  const written: HoursRule = { source: '', windows, ...(limit ? { limit } : {}) };
  const set = (i: number, part: Partial<HoursWindow>) =>
    setWindows(windows.map((one, at) => (at === i ? { ...one, ...part } : one)));
  return (
    <Form action={action} submit="Keep the rule" main={false}>
      {(state) => (
        <>
          <input type="hidden" name="where" value={place} />
          <input type="hidden" name="windows" value={JSON.stringify(windows)} />
          <input type="hidden" name="limit" value={JSON.stringify(limit)} />
          {where === null && (
            <Field
              as="select"
              name="place"
              label="Where"
              state={state}
              value={place}
              onChange={(event) => setPlace(event.target.value)}
            >
              {places.map(({ value, label }) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Field>
          )}
          {windows.map((window, i) => (
            <Span
              key={i}
              window={window}
              set={(part) => set(i, part)}
              remove={windows.length > 1 ? () => setWindows(windows.filter((_, at) => at !== i)) : null}
            />
          ))}
          {windows.length < MOST_SPANS && (
            <button
              type="button"
              className="link mb-2 text-sm"
              onClick={() => setWindows([...windows, { days: [6, 7], from: '12:00', to: '20:00' }])}
            >
              other days at other hours
            </button>
          )}
          <label className="mb-3 flex flex-wrap items-center gap-2 text-sm">
            <input
              type="checkbox"
              checked={limit !== null}
              onChange={(event) => setLimit(event.target.checked ? { count: 3, hours: 24 } : null)}
            />
            at most
            {limit && (
              <>
                <input
                  className="input w-16!"
                  inputMode="numeric"
                  aria-label="messages on one subject"
                  value={limit.count}
                  onChange={(event) =>
                    setLimit({ ...limit, count: Number(event.target.value.replace(/\D/g, '')) })
                  }
                />
                on one subject in
                <input
                  className="input w-16!"
                  inputMode="numeric"
                  aria-label="hours"
                  value={limit.hours}
                  onChange={(event) =>
                    setLimit({ ...limit, hours: Number(event.target.value.replace(/\D/g, '')) })
                  }
                />
                hours
              </>
            )}
          </label>
          <Field
            name="source"
            label="The law or advice it follows"
            maxLength={200}
            state={state}
            defaultValue={rule.date ? rule.source : ''}
          />
          {allowsMore(written, place) && (
            <p className="mb-3 text-sm text-wait">
              ! It lets something be sent that the shipped rule of this place forbids. Be sure of it: the fine
              is for each text.
            </p>
          )}
        </>
      )}
    </Form>
  );
}

function Span({
  window,
  set,
  remove,
}: {
  window: HoursWindow;
  set(part: Partial<HoursWindow>): void;
  remove: (() => void) | null;
}) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-3">
      <SpanOfHours span={window} set={set} />
      {remove && (
        <button type="button" className="link text-sm" onClick={remove}>
          take out
        </button>
      )}
    </div>
  );
}
