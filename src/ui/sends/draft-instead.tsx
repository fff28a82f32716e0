'use client';
import { useState } from 'react';
import { INSTEAD_OF, type InsteadChannel } from '@/core/broadcast/instead';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import { Writer } from '@/ui/kit/writer';
import { Labelled } from './draft-fields';
import { insteadFor, type DraftValues } from './draft-values';

interface Props {
  id: string;
  channel: Channel;
  instead: DraftValues['instead'];
  set(instead: DraftValues['instead']): void;
  program: string;
  fields: readonly MergeField[];
  problemOf(field: string): string | undefined;
}

const ASKED: Record<Channel, string> = {
  sms: 'who cannot be texted',
  chat: 'who cannot be reached by chat',
  voicemail: 'who cannot be reached by voicemail',
  email: '',
};

/** What goes another way to who cannot be reached by this one: without an address, left, or never agreed to it. */
export function InsteadFields({ id, channel, instead: given, set, program, fields, problemOf }: Props) {
  const instead = insteadFor(channel, given);
  const [initial] = useState(instead?.body ?? '');
  const ways = INSTEAD_OF[channel];
  const by: InsteadChannel = instead?.channel ?? 'email';
  const withChannel = (way: InsteadChannel) =>
    set({
      ...(way === 'email' ? {} : { channel: way }),
      subject: instead?.subject ?? '',
      body: instead?.body ?? initial,
    });
  return (
    <section className="mb-4" aria-label="Else by another way">
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={instead !== null}
          onChange={({ target }) => (target.checked ? withChannel(ways[0]!) : set(null))}
        />
        {ASKED[channel]} gets {ways.length === 1 ? 'an e-mail' : 'something else'}, where they may be written
        to
      </label>
      {instead && (
        <div className="mt-3 border-l border-rule pl-4">
          {ways.length > 1 && (
            <div className="mb-3 flex gap-4" role="radiogroup" aria-label="By what">
              {ways.map((way) => (
                <label key={way} className="flex items-center gap-1.5">
                  <input
                    type="radio"
                    name={`${id}by`}
                    checked={by === way}
                    onChange={() => withChannel(way)}
                  />
                  {CHANNEL_WORDS[way].by}
                </label>
              ))}
            </div>
          )}
          {by === 'email' && (
            <Labelled id={`${id}is`} label="Subject of the e-mail" problem={problemOf('instead.subject')}>
              <input
                id={`${id}is`}
                className="input mb-3"
                value={instead.subject}
                maxLength={300}
                onChange={({ target }) => set({ ...instead, subject: target.value })}
              />
            </Labelled>
          )}
          <Writer
            label={by === 'email' ? 'E-mail' : 'Text'}
            initial={initial}
            value={instead.body}
            onChange={(body) => set({ ...instead, body })}
            fields={fields}
            counts={by === 'sms'}
            checked={{ program, channel: by, answers: false }}
            problem={problemOf('instead.body') ?? problemOf('instead')}
          />
        </div>
      )}
    </section>
  );
}
