'use client';
import { COMPANION_OF, MOST_MINUTES } from '@/core/broadcast/companion';
import type { Channel } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import { BesideFields } from './draft-beside';
import { Labelled } from './draft-fields';
import type { DraftValues } from './draft-values';

interface Props {
  id: string;
  channel: Channel;
  companion: DraftValues['companion'];
  set(companion: DraftValues['companion']): void;
  program: string;
  fields: readonly MergeField[];
  problemOf(field: string): string | undefined;
}

const SAYS = {
  before:
    'It goes first; the voicemail follows each person so long after. Whoever may not be told is called all the same.',
  after: 'It goes to each person a voicemail was left for, and to nobody else.',
};

/** What is told to each before or after a voicemail. */
export function CompanionFields({ id, channel, companion, set, ...rest }: Props) {
  const ways = COMPANION_OF[channel];
  return (
    <section className="mb-4" aria-label="Told beside it">
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={companion !== null}
          onChange={({ target }) =>
            set(
              target.checked
                ? { when: 'after', minutes: '2', channel: ways[0]!, subject: '', body: '' }
                : null,
            )
          }
        />
        a text or an e-mail goes with it, before or after
      </label>
      {companion && (
        <div className="mt-3 border-l border-rule pl-4">
          <div className="mb-3 flex flex-wrap items-end gap-4">
            <Labelled id={`${id}cm`} label="Minutes between" problem={rest.problemOf('companion.minutes')}>
              <input
                id={`${id}cm`}
                className="input w-24"
                inputMode="numeric"
                value={companion.minutes}
                maxLength={4}
                onChange={({ target }) => set({ ...companion, minutes: target.value.replace(/\D/g, '') })}
              />
            </Labelled>
            <div className="flex gap-4 pb-2" role="radiogroup" aria-label="When it goes">
              {(['before', 'after'] as const).map((when) => (
                <label key={when} className="flex items-center gap-1.5">
                  <input
                    type="radio"
                    name={`${id}cw`}
                    checked={companion.when === when}
                    onChange={() => set({ ...companion, when })}
                  />
                  {when} the voicemail
                </label>
              ))}
            </div>
          </div>
          <p className="mb-3 text-sm text-soft">
            {SAYS[companion.when]} At most {MOST_MINUTES[companion.when] / 60} hours.
          </p>
          <BesideFields
            {...{ ...rest, id, ways, beside: companion, field: 'companion' }}
            set={(part) => set({ ...companion, ...part })}
          />
        </div>
      )}
    </section>
  );
}
