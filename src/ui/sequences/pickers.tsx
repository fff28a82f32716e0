import { useState } from 'react';
import type { Option } from './types';

/** A choice among things of the workspace. What is gone stands there as such. */
export function Pick({
  label,
  value,
  options,
  none,
  onPick,
}: {
  label: string;
  value: string | null;
  options: readonly Option[];
  /** What stands for null; left out: something has to be chosen. */
  none?: string;
  onPick(value: string | null): void;
}) {
  const known = value === null || options.some(({ id }) => id === value);
  return (
    <label className="text-sm text-soft">
      {label}
      <select
        className="input mt-1 text-ink"
        value={value ?? ''}
        onChange={(event) => onPick(event.target.value === '' ? null : event.target.value)}
      >
        {none !== undefined && <option value="">{none}</option>}
        {none === undefined && value === '' && <option value="">choose …</option>}
        {!known && value !== '' && <option value={value!}>something gone</option>}
        {options.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

const UNITS = [
  ['1', 'minutes'],
  ['60', 'hours'],
  ['1440', 'days'],
] as const;

/** A span of whole minutes, hours or days. */
export function Span({
  label,
  minutes,
  onSpan,
}: {
  label: string;
  minutes: number;
  onSpan(minutes: number): void;
}) {
  const [unit, setUnit] = useState(() =>
    minutes > 0 && minutes % 1_440 === 0 ? 1_440 : minutes > 0 && minutes % 60 === 0 ? 60 : 1,
  );
  return (
    <fieldset className="text-sm text-soft">
      <legend>{label}</legend>
      <div className="mt-1 flex gap-2">
        <input
          type="number"
          className="input w-24! text-ink"
          aria-label={`${label}, how many`}
          min={0}
          max={Math.floor(1_581_120 / unit)}
          value={Math.round(minutes / unit)}
          onChange={(event) => onSpan(Math.max(0, Math.round(Number(event.target.value))) * unit)}
        />
        <select
          className="input w-auto! text-ink"
          aria-label={`${label}, unit`}
          value={unit}
          onChange={(event) => {
            const next = Number(event.target.value);
            onSpan(Math.round(minutes / unit) * next);
            setUnit(next);
          }}
        >
          {UNITS.map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
      </div>
    </fieldset>
  );
}

export function Time({
  label,
  value,
  onTime,
}: {
  label: string;
  value: string;
  onTime(value: string): void;
}) {
  return (
    <label className="text-sm text-soft">
      {label}
      <input
        type="time"
        className="input mt-1 text-ink"
        value={value}
        onChange={(event) => event.target.value !== '' && onTime(event.target.value)}
      />
    </label>
  );
}

export function Count({
  label,
  value,
  min,
  max,
  onCount,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  onCount(value: number): void;
}) {
  return (
    <label className="text-sm text-soft">
      {label}
      <input
        type="number"
        className="input mt-1 w-24! text-ink"
        min={min}
        max={max}
        value={value}
        onChange={(event) =>
          onCount(Math.min(max, Math.max(min, Math.round(Number(event.target.value) || 0))))
        }
      />
    </label>
  );
}

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

export function Weekdays({ value, onDays }: { value: readonly number[]; onDays(days: number[]): void }) {
  return (
    <fieldset className="text-sm text-soft">
      <legend>Days</legend>
      <div className="mt-1 flex flex-wrap gap-x-3 text-ink">
        {DAYS.map((name, i) => (
          <label key={name} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={value.includes(i + 1)}
              onChange={(event) => {
                const next = event.target.checked
                  ? [...value, i + 1].sort()
                  : value.filter((day) => day !== i + 1);
                // Without a day it would never come: the last one stays.
                if (next.length > 0) onDays(next);
              }}
            />
            {name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
