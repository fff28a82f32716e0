'use client';
import { checkProgram } from '@/core/registration/check';
import { CONTENT, type ContentKind, type ProgramFile, type ProgramWritten } from '@/core/registration/file';
import { Saving, useDesk } from '@/ui/kit/desk';
import { LabelledInput, LabelledText, type Problems } from '@/ui/kit/labelled';
import { count } from '@/ui/kit/numbers';
import { Facts, Section } from '@/ui/kit/page';
import { Lacks } from './lacks';

const NAMES: Record<string, string> = {
  ...{ about: 'what is sent', content: 'kinds of content', samples: 'samples', ways: 'ways to join' },
  ...{ confirmation: 'confirmation', help: 'answer to HELP' },
};

const nameOf = (field: string): string => {
  const [name = '', nth] = field.split('.');
  const said = NAMES[name] ?? name;
  return nth === undefined ? said : `${said}, number ${Number(nth) + 1}`;
};

interface Props {
  id: string;
  file: ProgramFile;
  written: ProgramWritten;
  stamp: number;
  /** Null: this teammate may look only. */
  save: ((id: string, input: object, press: string) => Promise<Problems>) | null;
  children: React.ReactNode;
}

/** What a reviewer is told of a program: little is written, most is taken from what the program says. */
export function ProgramDesk({ id, file, written: before, stamp, save, children }: Props) {
  const desk = useDesk(before, stamp);
  const { now, set, problems } = desk;
  const own = now.samples.filter((one) => one.trim() !== '');
  const { samples: _, perMonth, ...rest } = now;
  const shown: ProgramFile = {
    ...{ ...file, ...rest, perMonth: perMonth ?? file.perMonth },
    samples: own.length > 0 ? own : before.samples.length > 0 ? [] : file.samples,
  };
  const found = checkProgram(shown);
  const tick = (field: 'links' | 'calls' | 'adults', words: string) => (
    <label className="flex items-baseline gap-2 py-0.5">
      <input
        type="checkbox"
        checked={now[field]}
        onChange={(event) => set({ [field]: event.target.checked })}
      />
      {words}
    </label>
  );
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_21rem]">
      <form
        className="min-w-0 max-w-2xl"
        onSubmit={desk.saving(({ perMonth: per_month, ...written }, on, press) =>
          save!(id, { stamp: on, ...written, samples: own, per_month }, press),
        )}
      >
        <fieldset disabled={save === null}>
          <Section title="What you tell">
            <LabelledText
              name="about"
              label="What is sent, to whom, and why they asked for it"
              problems={problems}
              value={now.about}
              set={(about) => set({ about })}
              maxLength={1000}
            />
            <fieldset className="mb-3">
              <legend className="mb-1 text-sm text-soft">Everything that will ever be sent</legend>
              <div className="grid gap-x-6 sm:grid-cols-2">
                {(Object.entries(CONTENT) as [ContentKind, string][]).map(([kind, words]) => (
                  <label key={kind} className="flex items-baseline gap-2 py-0.5">
                    <input
                      type="checkbox"
                      checked={now.content.includes(kind)}
                      onChange={(event) =>
                        set({
                          content: event.target.checked
                            ? [...now.content, kind]
                            : now.content.filter((one) => one !== kind),
                        })
                      }
                    />
                    {words}
                  </label>
                ))}
              </div>
            </fieldset>
            <fieldset className="mb-3">
              <legend className="mb-1 text-sm text-soft">Texts hold</legend>
              {tick('links', 'links')}
              {tick('calls', 'numbers to call')}
              {tick('adults', 'what is only for grown-ups')}
            </fieldset>
            <LabelledInput
              name="per_month"
              label={`Texts a month to everybody together; empty: as in the last thirty days (${count(file.perMonth)})`}
              problems={problems}
              value={now.perMonth === null ? '' : String(now.perMonth)}
              set={(typed) => {
                const digits = typed.replace(/\D/g, '').slice(0, 9);
                set({ perMonth: digits === '' ? null : Number(digits) });
              }}
              inputMode="numeric"
              narrow="max-w-40"
            />
          </Section>
          <Section title="Samples" note={own.length > 0 ? 'yours' : 'the last that were sent'}>
            {own.length === 0 &&
              now.samples.length === 0 &&
              file.samples.map((sample) => (
                <p key={sample} className="border-b border-rule py-1.5 [overflow-wrap:anywhere]">
                  {sample}
                </p>
              ))}
            {now.samples.map((sample, i) => (
              <LabelledText
                key={i}
                name={`samples.${i}`}
                label={`Sample ${i + 1}`}
                problems={problems}
                value={sample}
                set={(words) => set({ samples: now.samples.map((one, at) => (at === i ? words : one)) })}
                maxLength={1600}
              />
            ))}
            <div className="mt-2 flex gap-3">
              {now.samples.length === 0 && file.samples.length > 0 && (
                <button type="button" className="button" onClick={() => set({ samples: [...file.samples] })}>
                  Change these
                </button>
              )}
              {now.samples.length < 5 && (
                <button
                  type="button"
                  className="button"
                  onClick={() =>
                    set({ samples: [...(now.samples.length > 0 ? now.samples : file.samples), ''] })
                  }
                >
                  Add a sample
                </button>
              )}
              {now.samples.length > 0 && (
                <button type="button" className="button" onClick={() => set({ samples: [] })}>
                  Take the last that were sent
                </button>
              )}
            </div>
          </Section>
        </fieldset>
        <Taken file={file} />
        {save && (
          <Saving
            desk={desk}
            submit="Keep it"
            waits="not kept yet"
            loose={(field) => !/^(?:about|content|samples|per_month)/.test(field)}
          />
        )}
      </form>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        {children}
        <Section
          title="What a reviewer would miss"
          note={found.length > 0 ? String(found.length) : undefined}
        >
          <Lacks found={found} names={nameOf} />
        </Section>
      </aside>
    </div>
  );
}

/** What the program says already, and the way to where it is changed. */
function Taken({ file }: { file: ProgramFile }) {
  return (
    <>
      <Section title="How people join" note="as they see it">
        {file.ways.length === 0 && <p className="text-soft">No keyword, and no form that is shown.</p>}
        {file.ways.map(({ kind, name, words, place }) => (
          <div key={place} className="border-b border-rule py-1.5">
            <p className="text-sm text-soft">
              {kind}{' '}
              <a className="link" href={place}>
                {name}
              </a>
            </p>
            <p className="[overflow-wrap:anywhere]">{words}</p>
          </div>
        ))}
      </Section>
      <Section title="What is sent by itself">
        <Facts
          rows={[
            ['purpose', file.purpose],
            ['how often', file.often],
          ]}
        />
        {(
          [
            ['question before joining', file.question],
            ['confirmation', file.confirmation],
            ['HELP', file.help],
            ['STOP', file.stop],
          ] as const
        )
          .filter(([, words]) => words !== '')
          .map(([name, words]) => (
            <div key={name} className="border-b border-rule py-1.5">
              <p className="text-sm text-soft">{name}</p>
              <p className="[overflow-wrap:anywhere]">{words}</p>
            </div>
          ))}
      </Section>
    </>
  );
}
