'use client';
import { useState } from 'react';
import type { InsteadChannel } from '@/core/broadcast/instead';
import { CHANNEL_WORDS } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import { Writer } from '@/ui/kit/writer';
import { Labelled } from './draft-fields';

interface Beside {
  channel: InsteadChannel;
  subject: string;
  body: string;
}

interface Props {
  id: string;
  /** The field it stands in, as problems name it. */
  field: 'instead' | 'companion';
  ways: readonly InsteadChannel[];
  beside: Beside;
  set(part: Partial<Beside>): void;
  program: string;
  fields: readonly MergeField[];
  problemOf(field: string): string | undefined;
}

/** What goes by another channel beside a broadcast: by what, and what it says. */
export function BesideFields({ id, field, ways, beside, set, program, fields, problemOf }: Props) {
  const { channel: by, subject, body } = beside;
  const [initial] = useState(body);
  return (
    <>
      {ways.length > 1 && (
        <div className="mb-3 flex gap-4" role="radiogroup" aria-label="By what">
          {ways.map((way) => (
            <label key={way} className="flex items-center gap-1.5">
              <input
                type="radio"
                name={`${id}${field}`}
                checked={by === way}
                onChange={() => set({ channel: way })}
              />
              {CHANNEL_WORDS[way].by}
            </label>
          ))}
        </div>
      )}
      {by === 'email' && (
        <Labelled id={`${id}${field}s`} label="Subject of the e-mail" problem={problemOf(`${field}.subject`)}>
          <input
            id={`${id}${field}s`}
            className="input mb-3"
            value={subject}
            maxLength={300}
            onChange={({ target }) => set({ subject: target.value })}
          />
        </Labelled>
      )}
      <Writer
        label={by === 'email' ? 'E-mail' : 'Text'}
        initial={initial}
        value={body}
        onChange={(written) => set({ body: written })}
        fields={fields}
        counts={by === 'sms'}
        checked={{ program, channel: by, answers: false }}
        problem={problemOf(`${field}.body`) ?? problemOf(field)}
      />
    </>
  );
}
