'use client';
import { Problem } from '@/ui/kit/problem';
import { useState, useTransition } from 'react';
import { ADDRESS_STATE_WORDS, KIND_WORDS, type AddressKind, type AddressState } from '@/core/people/address';
import { displayNumber } from '@/core/phone/number';
import { Mark } from '@/ui/kit/mark';

export interface ShownAddress {
  kind: AddressKind;
  value: string;
  preferred: boolean;
  state: AddressState;
  line: string;
  /** Programs it agreed to. */
  agreed: string[];
}

export type AddressChange = 'add' | 'prefer' | 'take';

interface Props {
  addresses: ShownAddress[];
  mayEdit: boolean;
  /** A sentence when it was refused. */
  change(what: AddressChange, address: string): Promise<string | null>;
}

/** Where somebody is reached, each address with its state and what it agreed to. */
export function Addresses({ addresses, mayEdit, change }: Props) {
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const act = (what: AddressChange, address: string) =>
    start(async () => {
      const refused = await change(what, address);
      setProblem(refused);
      if (!refused && what === 'add') setTyped('');
    });
  return (
    <>
      <ul>
        {addresses.map((address) => (
          <li key={`${address.kind} ${address.value}`} className="border-b border-rule py-1.5">
            <div className="flex flex-wrap items-baseline justify-between gap-x-3">
              <span
                className={
                  address.preferred ? '[overflow-wrap:anywhere]' : 'text-soft [overflow-wrap:anywhere]'
                }
              >
                {address.kind === 'chat' && <span className="text-soft">chat </span>}
                {displayNumber(address.value)}
              </span>
              <State address={address} />
            </div>
            <p className="text-sm text-soft">
              {address.agreed.length > 0 ? `in ${address.agreed.join(', ')}` : 'agreed to nothing'}
            </p>
            {mayEdit && addresses.length > 1 && <Choices address={address} pending={pending} act={act} />}
          </li>
        ))}
      </ul>
      {mayEdit && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            act('add', typed);
          }}
        >
          <input
            className="input min-w-0 flex-1 py-0.5!"
            aria-label="Another number, e-mail address or chat id"
            placeholder="number, e-mail, or chat:id"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <button type="submit" className="button py-0.5!" disabled={pending || typed.trim() === ''}>
            Add
          </button>
        </form>
      )}
      <Problem>{problem}</Problem>
    </>
  );
}

function State({ address: { kind, state, line } }: { address: ShownAddress }) {
  if (state !== 'in-service')
    return <Mark tone={state === 'stale' ? 'wait' : 'bad'}>{ADDRESS_STATE_WORDS[state]}</Mark>;
  if (line === 'landline') return <Mark tone="bad">landline</Mark>;
  return <span className="text-sm text-soft">{kind === 'number' && line !== 'unknown' ? line : ''}</span>;
}

/** Taking away asks once more: what the address agreed to lapses. */
function Choices({
  address: { kind, value, preferred, agreed },
  pending,
  act,
}: {
  address: ShownAddress;
  pending: boolean;
  act(what: AddressChange, address: string): void;
}) {
  const [sure, setSure] = useState(false);
  const shown = displayNumber(value);
  // A chat id may be the very number of somebody.
  const named = kind === 'chat' ? `chat:${value}` : value;
  if (sure)
    return (
      <p className="text-sm">
        {agreed.length > 0
          ? `Its consent to ${agreed.length === 1 ? agreed[0] : `${agreed.length} programs`} lapses. `
          : `This ${KIND_WORDS[kind]} is no longer theirs. `}
        <button type="button" className="link" disabled={pending} onClick={() => act('take', named)}>
          take it away
        </button>
        {' · '}
        <button type="button" className="link" onClick={() => setSure(false)}>
          keep it
        </button>
      </p>
    );
  return (
    <p className="text-sm">
      {!preferred && (
        <>
          <button type="button" className="link" disabled={pending} onClick={() => act('prefer', named)}>
            <Which>{shown}</Which>prefer it
          </button>
          {' · '}
        </>
      )}
      <button type="button" className="link" onClick={() => setSure(true)}>
        <Which>{shown}</Which>take away …
      </button>
    </p>
  );
}

/** Whose button it is, for who hears the page. */
const Which = ({ children }: { children: string }) => <span className="sr-only">{children}: </span>;
