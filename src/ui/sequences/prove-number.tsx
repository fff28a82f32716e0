'use client';
import { useState } from 'react';

/** A mobile number of one's own, proved by six digits that come to it. */
export function ProveNumber({
  why,
  asked,
  busy,
  ask,
  give,
}: {
  why: string;
  asked: string | null;
  busy: boolean;
  ask(number: string): void;
  give(code: string): void;
}) {
  const [number, setNumber] = useState('');
  const [code, setCode] = useState('');
  return (
    <div className="grid gap-2">
      <p className="text-sm text-soft">{why}</p>
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          ask(number);
        }}
      >
        <label className="grid text-sm text-soft">
          Your mobile number
          <input
            className="input mt-1 w-44! text-ink"
            type="tel"
            autoComplete="tel"
            value={number}
            maxLength={30}
            onChange={(event) => setNumber(event.target.value)}
          />
        </label>
        <button type="submit" className="button" disabled={busy || number.trim() === ''}>
          {asked ? 'Send another code' : 'Send me a code'}
        </button>
      </form>
      {asked && (
        <form
          className="flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            give(code);
          }}
        >
          <label className="grid text-sm text-soft">
            Six digits, sent to {asked}
            <input
              className="input mt-1 w-28! text-ink"
              inputMode="numeric"
              autoComplete="one-time-code"
              value={code}
              maxLength={7}
              onChange={(event) => setCode(event.target.value)}
            />
          </label>
          <button type="submit" className="button button-main" disabled={busy || code.trim() === ''}>
            That is the code
          </button>
        </form>
      )}
    </div>
  );
}
