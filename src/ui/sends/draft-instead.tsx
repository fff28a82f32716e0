'use client';
import { useState } from 'react';
import type { MergeField } from '@/core/text/fields';
import { Writer } from '@/ui/kit/writer';
import { Labelled } from './draft-fields';
import type { DraftValues } from './draft-values';

interface Props {
  id: string;
  instead: DraftValues['instead'];
  set(instead: DraftValues['instead']): void;
  program: string;
  fields: readonly MergeField[];
  problemOf(field: string): string | undefined;
}

/** A letter for who cannot be texted: without a number, left by text, or never agreed to texts. */
export function InsteadFields({ id, instead, set, program, fields, problemOf }: Props) {
  const [initial] = useState(instead?.body ?? '');
  return (
    <section className="mb-4" aria-label="Else by e-mail">
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={instead !== null}
          onChange={({ target }) => set(target.checked ? { subject: '', body: initial } : null)}
        />
        who cannot be texted gets an e-mail, where they may be written to
      </label>
      {instead && (
        <div className="mt-3 border-l border-rule pl-4">
          <Labelled id={`${id}is`} label="Subject of the e-mail" problem={problemOf('instead.subject')}>
            <input
              id={`${id}is`}
              className="input mb-3"
              value={instead.subject}
              maxLength={300}
              onChange={({ target }) => set({ ...instead, subject: target.value })}
            />
          </Labelled>
          <Writer
            label="E-mail"
            initial={initial}
            value={instead.body}
            onChange={(body) => set({ ...instead, body })}
            fields={fields}
            counts={false}
            checked={{ program, channel: 'email', answers: false }}
            problem={problemOf('instead.body') ?? problemOf('instead')}
          />
        </div>
      )}
    </section>
  );
}
