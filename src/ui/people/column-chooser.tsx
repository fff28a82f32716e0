'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ArrowDown, ArrowUp } from 'lucide-react';
import type { Column } from './people-table';

/** Which columns stand in the table, and in which order. */
export function ColumnChooser({
  columns,
  chosen,
  usual,
  change,
}: {
  columns: Column[];
  chosen: string[];
  usual: string[];
  change(chosen: string[]): void;
}) {
  const known = chosen.filter((name) => columns.some((column) => column.name === name));
  const rest = columns.filter(({ name }) => !known.includes(name));
  const move = (i: number, by: number) => {
    const next = [...known];
    [next[i], next[i + by]] = [next[i + by]!, next[i]!];
    change(next);
  };
  return (
    <Popover>
      <PopoverButton className="button">Columns</PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-20 max-h-96 w-72 overflow-y-auto border border-ink bg-paper p-3 [--anchor-gap:6px]"
      >
        <p className="mb-1 text-sm text-soft">In this order</p>
        <ol>
          {known.map((name, i) => {
            const label = columns.find((column) => column.name === name)!.label;
            return (
              <li key={name} className="flex items-center gap-2 border-b border-rule py-1">
                <label className="flex flex-1 items-center gap-2">
                  <input
                    type="checkbox"
                    checked
                    onChange={() => change(known.filter((one) => one !== name))}
                  />
                  {label}
                </label>
                <button
                  type="button"
                  aria-label={`${label} earlier`}
                  disabled={i === 0}
                  className="p-0.5 disabled:opacity-40"
                  onClick={() => move(i, -1)}
                >
                  <ArrowUp size={14} aria-hidden="true" />
                </button>
                <button
                  type="button"
                  aria-label={`${label} later`}
                  disabled={i === known.length - 1}
                  className="p-0.5 disabled:opacity-40"
                  onClick={() => move(i, 1)}
                >
                  <ArrowDown size={14} aria-hidden="true" />
                </button>
              </li>
            );
          })}
        </ol>
        {rest.length > 0 && <p className="mt-3 mb-1 text-sm text-soft">Not shown</p>}
        <ul>
          {rest.map(({ name, label }) => (
            <li key={name} className="border-b border-rule py-1">
              <label className="flex items-center gap-2">
                <input type="checkbox" checked={false} onChange={() => change([...known, name])} />
                {label}
              </label>
            </li>
          ))}
        </ul>
        <button type="button" className="link mt-3" onClick={() => change(usual)}>
          the usual columns
        </button>
      </PopoverPanel>
    </Popover>
  );
}
