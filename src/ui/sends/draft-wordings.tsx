'use client';
import { useId } from 'react';
import { letterOf, MOST_WORDINGS, type Measure } from '@/core/broadcast/wordings';
import { Problem } from '@/ui/kit/problem';
import type { DraftComparison } from './draft-values';

const BY_WORDS: Record<Measure, string> = {
  replies: 'more replies',
  clicks: 'more clicks',
  'opt-outs': 'fewer opt-outs',
};

/** Which of several wordings is written on, and one more. */
export function WordingTabs({
  wordings,
  shown,
  open,
  show,
  add,
  takeOut,
}: {
  wordings: number;
  shown: number;
  /** Those that must be mended. */
  open: readonly number[];
  show(wording: number): void;
  add(): void;
  takeOut(): void;
}) {
  return (
    <div role="group" aria-label="Wordings" className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
      {wordings > 1 &&
        Array.from({ length: wordings }, (_, i) => (
          <button
            key={i}
            type="button"
            aria-pressed={i === shown}
            className={i === shown ? 'border-b-2 border-accent font-semibold' : 'link'}
            onClick={() => show(i)}
          >
            Wording {letterOf(i)}
            {open.includes(i) && <span className="text-bad"> (to mend)</span>}
          </button>
        ))}
      {wordings < MOST_WORDINGS && (
        <button type="button" className="link text-sm" onClick={add}>
          {wordings === 1 ? 'Try a second wording' : 'one more'}
        </button>
      )}
      {shown > 0 && (
        <button type="button" className="link text-sm" onClick={takeOut}>
          take {letterOf(shown)} out
        </button>
      )}
    </div>
  );
}

/** By what they are compared, and what becomes of the rest. */
export function ComparisonFields({
  comparison,
  set,
  problem,
}: {
  comparison: DraftComparison;
  set(part: Partial<DraftComparison>): void;
  problem: string | undefined;
}) {
  const id = useId();
  const some = comparison.first !== '';
  return (
    <fieldset className="mt-4 border-t border-rule pt-3">
      <legend className="pr-3 font-head text-lg">Compared</legend>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <label htmlFor={`${id}b`}>Better is the one with</label>
        <select
          id={`${id}b`}
          className="input w-auto!"
          value={comparison.by}
          onChange={(event) => set({ by: event.target.value as Measure })}
        >
          {Object.entries(BY_WORDS).map(([by, words]) => (
            <option key={by} value={by}>
              {words}
            </option>
          ))}
        </select>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
        <label className="flex items-center gap-2">
          <input type="radio" name={`${id}f`} checked={!some} onChange={() => set({ first: '' })} /> all
          people are split at once
        </label>
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name={`${id}f`}
            checked={some}
            onChange={() => set({ first: comparison.first || '20' })}
          />{' '}
          first
        </label>
        <input
          type="number"
          min={1}
          max={90}
          aria-label="Of a hundred people, first"
          className="input w-20!"
          value={comparison.first}
          onChange={(event) => set({ first: event.target.value })}
        />
        <span>% of them; the rest gets the better one</span>
      </div>
      {some && (
        <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
          <label className="flex items-center gap-2">
            <input
              type="radio"
              name={`${id}i`}
              checked={comparison.byItself}
              onChange={() => set({ byItself: true })}
            />{' '}
            by itself, once the difference is real
          </label>
          <label className="flex items-center gap-2">
            <input
              type="radio"
              name={`${id}i`}
              checked={!comparison.byItself}
              onChange={() => set({ byItself: false })}
            />{' '}
            when somebody chooses
          </label>
        </div>
      )}
      <Problem>{problem}</Problem>
    </fieldset>
  );
}
