'use client';
import { INSTEAD_OF } from '@/core/broadcast/instead';
import type { Channel } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import { BesideFields } from './draft-beside';
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
export function InsteadFields({ channel, instead: given, set, ...rest }: Props) {
  const instead = insteadFor(channel, given);
  const ways = INSTEAD_OF[channel];
  const beside = { channel: instead?.channel ?? ('email' as const), subject: '', body: '', ...instead };
  const put = ({ channel: by, ...words }: typeof beside) =>
    set({ ...(by === 'email' ? {} : { channel: by }), ...words });
  return (
    <section className="mb-4" aria-label="Else by another way">
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={instead !== null}
          onChange={({ target }) => (target.checked ? put({ ...beside, channel: ways[0]! }) : set(null))}
        />
        {ASKED[channel]} gets {ways.length === 1 ? 'an e-mail' : 'something else'}, where they may be written
        to
      </label>
      {instead && (
        <div className="mt-3 border-l border-rule pl-4">
          <BesideFields
            {...{ ...rest, ways, beside, field: 'instead' }}
            set={(part) => put({ ...beside, ...part })}
          />
        </div>
      )}
    </section>
  );
}
