'use client';
import { useState } from 'react';
import type { FormState } from '@/ui/kit/form-state';
import { FilePicker } from '@/ui/kit/file-picker';
import { PlainForm } from '@/ui/kit/plain-form';
import { Pick } from './pickers';
import type { Option } from './types';

interface Props {
  programs: Option[];
  ready: { id: string; name: string; means: string }[];
  act: (state: FormState, data: FormData) => Promise<FormState>;
}

/** A sequence from a ready-made one, from a file, or from nothing; for which program comes first. */
export function NewSequence({ programs, ready, act }: Props) {
  const [program, setProgram] = useState(programs[0]?.id ?? '');
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  return (
    <>
      <div className="mb-4 max-w-md">
        <Pick
          label="Program it writes for"
          value={program}
          options={programs}
          onPick={(id) => setProgram(id ?? '')}
        />
      </div>
      <ul>
        {ready.map(({ id, name, means }) => (
          <li key={id} className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-rule py-2.5">
            <div className="min-w-60 flex-1">
              <b>{name}</b>
              <p className="m-0 text-sm text-soft">{means}</p>
            </div>
            <PlainForm action={act} submit="Begin with it" hidden={{ program, ready: id }} />
          </li>
        ))}
      </ul>
      <div className="mt-4 flex flex-wrap items-center gap-4">
        <PlainForm action={act} submit="Begin with nothing" hidden={{ program }} />
        {file ? (
          <PlainForm
            action={act}
            submit={`Begin with ${file.name}`}
            hidden={{ program, document: file.text }}
          />
        ) : (
          <FilePicker
            accept="application/json,.json"
            onFile={(chosen) => void chosen.text().then((text) => setFile({ name: chosen.name, text }))}
          >
            Open a file
          </FilePicker>
        )}
      </div>
    </>
  );
}
