'use client';
import { useEffect, useState } from 'react';
import {
  ARRANGEMENTS,
  LONGEST_HEADLINE,
  LONGEST_WORDS,
  SHEETS,
  type Arrangement,
  type PosterDocument,
  type SheetName,
} from '@/core/poster/document';
import { sentenceOf } from '@/core/shared/sentence';
import { PicturePick, type PictureChoice } from '@/ui/forms/picture-pick';
import {
  LabelledChoice,
  LabelledColour,
  LabelledInput,
  LabelledText,
  type Problems,
} from '@/ui/kit/labelled';
import { Saving, useDesk } from '@/ui/kit/desk';
import { Mark } from '@/ui/kit/mark';
import { Section } from '@/ui/kit/page';

interface Seen {
  svg: string;
  findings: { weight: 'must' | 'should'; message: string }[];
}

interface Props {
  poster: { id: string; stamp: number; document: PosterDocument };
  first: Seen;
  pictures: PictureChoice[];
  mayEdit: boolean;
  save(id: string, stamp: number, document: PosterDocument, press: string): Promise<Problems>;
  children: React.ReactNode;
}

/** So long after the last key the poster is drawn anew. */
const SETTLED = 300;

/** A poster, drawn as it will be printed beside what is changed. */
export function PosterDesk({ poster, first, pictures, mayEdit, save, children }: Props) {
  const desk = useDesk(poster.document, poster.stamp);
  const { now, set, problems, changed } = desk;
  const { seen, stale } = useDrawn(poster, now, first);
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_26rem]">
      <div className="min-w-0">
        <form
          className="mb-8"
          onSubmit={desk.saving((document, stamp, press) => save(poster.id, stamp, document, press))}
        >
          <fieldset disabled={!mayEdit}>
            <Words {...{ now, set, problems, pictures }} />
            <Saving desk={desk} />
          </fieldset>
        </form>
        <Files id={poster.id} changed={changed} />
        {children}
      </div>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        <Section title="As it will be printed" note={stale ? 'drawing …' : undefined}>
          {/* oxlint-disable-next-line nextjs/no-img-element -- drawn here, nothing is fetched */}
          <img
            src={`data:image/svg+xml,${encodeURIComponent(seen.svg)}`}
            alt="The poster as it will be printed"
            className={`max-h-[36rem] max-w-full border border-rule ${stale ? 'opacity-60' : ''}`}
          />
        </Section>
        <Section title="What the rules find">
          {seen.findings.length === 0 ? (
            <p className="text-good">✓ It says all that the rules ask for.</p>
          ) : (
            <ul>
              {seen.findings.map(({ weight, message }) => (
                <li key={message} className="border-b border-rule py-1">
                  <Mark tone={weight === 'must' ? 'bad' : 'wait'}>{weight}</Mark> {sentenceOf(message)}
                </li>
              ))}
            </ul>
          )}
        </Section>
      </aside>
    </div>
  );
}

/** The poster as it stands, drawn by the server a moment after the last change. */
function useDrawn({ id, document }: Props['poster'], now: PosterDocument, first: Seen) {
  const text = JSON.stringify(now);
  const [drawn, setDrawn] = useState({ text: JSON.stringify(document), seen: first });
  useEffect(() => {
    if (text === drawn.text) return;
    const gone = new AbortController();
    const timer = setTimeout(() => void draw(), SETTLED);
    const draw = async () => {
      const body = JSON.stringify({ id, document: text });
      const answer = await fetch('/internal/poster', { method: 'POST', body, signal: gone.signal }).catch(
        () => null,
      );
      if (!answer) return;
      const said = (await answer.json().catch(() => ({}))) as Seen & { message?: string };
      if (gone.signal.aborted) return;
      const wrong = { weight: 'must' as const, message: said.message ?? 'It could not be drawn. Try again.' };
      setDrawn((before) => ({
        text,
        seen: answer.ok ? said : { svg: before.seen.svg, findings: [wrong] },
      }));
    };
    return () => {
      clearTimeout(timer);
      gone.abort();
    };
  }, [id, text, drawn.text]);
  return { seen: drawn.seen, stale: drawn.text !== text };
}

function Words({
  now,
  set,
  problems,
  pictures,
}: {
  now: PosterDocument;
  set(part: Partial<PosterDocument>): void;
  problems: Problems['problems'];
  pictures: PictureChoice[];
}) {
  return (
    <Section title="What it says">
      <LabelledInput
        {...{ name: 'headline', label: 'Headline', problems }}
        maxLength={LONGEST_HEADLINE}
        value={now.headline}
        set={(headline) => set({ headline })}
      />
      <LabelledText
        {...{ name: 'words', label: 'A line or two below it; empty: none', problems }}
        maxLength={LONGEST_WORDS}
        value={now.words}
        set={(words) => set({ words })}
      />
      <div className="grid gap-x-6 sm:grid-cols-2">
        <LabelledChoice
          {...{ name: 'sheet', label: 'Sheet', problems }}
          value={now.sheet}
          options={Object.entries(SHEETS).map(([key, sheet]) => [key, sheet.words])}
          set={(sheet) => set({ sheet: sheet as SheetName })}
        />
        <LabelledChoice
          {...{ name: 'arrangement', label: 'Arrangement', problems }}
          value={now.arrangement}
          options={Object.entries(ARRANGEMENTS)}
          set={(arrangement) => set({ arrangement: arrangement as Arrangement })}
        />
        <LabelledColour
          {...{ name: 'colour', label: 'Colour', problems }}
          value={now.look.colour}
          set={(colour) => set({ look: { ...now.look, colour } })}
        />
        <PicturePick
          label="Picture"
          pictures={pictures}
          chosen={now.look.picture ?? null}
          choose={(picture) =>
            set({ look: { colour: now.look.colour, ...(picture === null ? {} : { picture }) } })
          }
        />
      </div>
      <p className="text-sm text-soft">
        Number, code, offer and what the rules ask for stand on it by themselves.
      </p>
    </Section>
  );
}

function Files({ id, changed }: { id: string; changed: boolean }) {
  return (
    <Section title="Files">
      {changed ? (
        <p className="text-soft">Save the change first: files are made of what is saved.</p>
      ) : (
        <p className="flex flex-wrap gap-3">
          {(['pdf', 'png', 'svg'] as const).map((kind) => (
            <a key={kind} className="button" href={`/programs/posters/${id}/file?kind=${kind}`}>
              {kind.toUpperCase()}
            </a>
          ))}
        </p>
      )}
    </Section>
  );
}
