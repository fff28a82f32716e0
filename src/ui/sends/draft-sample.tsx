'use client';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useEffect, useState } from 'react';
import type { Example, Examples } from '@/core/broadcast/examples';
import { displayNumber } from '@/core/phone/number';
import { plural } from '@/ui/kit/numbers';
import type { KeptFile } from '@/core/media/kinds';
import { ShownFiles } from '@/ui/media/shown-files';

const CHOICES: readonly [keyof Examples, string][] = [
  ['next', 'next'],
  ['any', 'at random'],
  ['longest', 'the longest'],
  ['dearest', 'the dearest'],
  ['emptiest', 'most fields empty'],
];

export interface Found {
  personId: string;
  name: string;
  address: string | null;
}

interface Props {
  data: {
    /** How it reads for one person; null: nobody would get it. */
    sample: {
      name: string;
      subject: string | null;
      text: string;
      parts: number;
      alphabet: string | null;
      /** The files it carries; null: it is words. */
      media: readonly string[] | null;
      /** A letter as programs for mail show it; null: it is a text. */
      html: string | null;
    } | null;
    examples: Examples;
  };
  /** Files that go along. */
  files: readonly KeptFile[];
  onSample(personId: string): void;
  /** People of this audience who are called so. */
  find(called: string): Promise<Found[]>;
}

/** How it reads for one person, and the way to others. */
export function DraftSample({ data: { sample, examples }, files, onSample, find }: Props) {
  if (!sample)
    return (
      <section>
        <h2 className="mb-1">How it reads</h2>
        <p className="text-soft">Nobody would get it.</p>
      </section>
    );
  return (
    <section>
      <h2 className="mb-1">How it reads</h2>
      <p className="mb-1 text-sm text-soft">
        for {sample.name}
        {sample.media && ': a picture message'}
        {sample.alphabet && `: ${plural(sample.parts, 'part')}, ${sample.alphabet}`}
      </p>
      {sample.subject && <p className="border-l-2 border-ink pl-3 font-semibold">{sample.subject}</p>}
      {sample.media && (
        <div className="border-l-2 border-ink pl-3">
          <ShownFiles files={files.filter(({ id }) => sample.media!.includes(id))} />
        </div>
      )}
      {sample.html ? (
        // Nothing in it runs, and nothing is fetched.
        <iframe
          title="The letter as it is shown"
          sandbox=""
          srcDoc={sample.html}
          className="h-96 w-full border border-rule bg-white"
        />
      ) : (
        <p className="whitespace-pre-wrap border-l-2 border-ink pl-3 [overflow-wrap:anywhere]">
          {sample.text}
        </p>
      )}
      <p className="mt-2 flex flex-wrap gap-x-3 text-sm">
        <span className="text-soft">Show</span>
        {CHOICES.map(([key, label]) => (
          <Choice key={key} label={label} example={examples[key]} onSample={onSample} />
        ))}
      </p>
      <Search find={find} onSample={onSample} />
    </section>
  );
}

function Choice({
  label,
  example,
  onSample,
}: {
  label: string;
  example: Example | null;
  onSample(personId: string): void;
}) {
  return (
    example && (
      <button type="button" className="link" title={example.name} onClick={() => onSample(example.personId)}>
        {label}
      </button>
    )
  );
}

/** Somebody of the audience by a part of their name or number. */
function Search({ find, onSample }: Pick<Props, 'find' | 'onSample'>) {
  const [called, setCalled] = useState('');
  const [found, setFound] = useState<Found[]>([]);
  useEffect(() => {
    if (called.trim() === '') return;
    let gone = false;
    const timer = setTimeout(() => {
      void find(called).then(
        (people) => gone || setFound(people),
        () => gone || setFound([]),
      );
    }, 250);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [called, find]);
  const shown = called.trim() === '' ? [] : found;
  return (
    <Combobox<Found | null>
      value={null}
      immediate
      onChange={(person) => person && (onSample(person.personId), setCalled(''))}
    >
      <ComboboxInput
        className="input mt-2 py-1! text-sm"
        aria-label="Show it for somebody"
        placeholder="for somebody: a name or number"
        displayValue={() => called}
        onChange={(event) => setCalled(event.target.value)}
      />
      <ComboboxOptions static className={shown.length === 0 ? 'hidden' : 'border border-t-0 border-soft'}>
        {shown.map((person) => (
          <ComboboxOption
            key={person.personId}
            value={person}
            className="cursor-pointer px-3 py-1 text-sm data-focus:bg-paper-2"
          >
            {person.name} <span className="text-soft">{displayNumber(person.address)}</span>
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
