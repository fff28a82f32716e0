'use client';
import { showCode, voucherWords } from '@/core/offer/code';
import type { OwnField } from '@/core/people/values';
import { displayNumber } from '@/core/phone/number';
import { askedOf, questionText } from '@/core/question/fields';
import { measure } from '@/core/text/measure';
import { parseTemplate, templateFromPlain } from '@/core/text/template';
import { confirmationText, doubleOptInText, keywordNotice, type ProgramWording } from '@/core/text/wording';
import { Saving, useDesk } from '@/ui/kit/desk';
import { LabelledInput, problemOf, type Problems } from '@/ui/kit/labelled';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { FirstWords, Gives, Several, type Giving, type GivingChoices } from './gives';
import { KeywordQuestions, type Asking } from './keyword-questions';

export interface KeywordDraft extends Asking, Giving {
  senders: string[];
  /** As a clock of the house shows it: `2026-12-01T18:00`; empty: no end on that side. */
  from: string;
  to: string;
  beforeWords: string;
  afterWords: string;
}

interface Props {
  keyword: KeywordDraft & { id: string; word: string; stamp: number };
  program: { name: string; welcome: string; doubleOptIn: boolean };
  wording: ProgramWording;
  publicUrl: string;
  choices: GivingChoices & {
    numbers: { id: string; number: string }[];
    own: OwnField[];
  };
  mayEdit: boolean;
  save(id: string, stamp: number, draft: KeywordDraft, press: string): Promise<Problems>;
  /** Below what is edited. */
  children: React.ReactNode;
  /** Below the answer. */
  margin: React.ReactNode;
}

/** What a keyword says, gives and starts, with the answer as it will be read beside it. */
export function KeywordDesk(props: Props) {
  const { keyword, choices, mayEdit, save } = props;
  const { id, word: _, stamp, ...before } = keyword;
  const desk = useDesk<KeywordDraft>(before, stamp);
  const { now, set, problems } = desk;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_21rem]">
      <div className="min-w-0">
        <form className="mb-8" onSubmit={desk.saving((draft, on, press) => save(id, on, draft, press))}>
          <fieldset disabled={!mayEdit}>
            <FirstWords now={now} set={set} program={props.program} problems={problems} />
            <Gives {...{ now, set, choices, problems }} />
            <KeywordQuestions {...{ now, set, problems }} own={choices.own} />
            <Counts {...{ now, set, choices, problems }} />
            <Saving desk={desk} />
          </fieldset>
        </form>
        {props.children}
      </div>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        <Answer {...props} now={now} />
        {props.margin}
      </aside>
    </div>
  );
}

interface PartProps {
  now: KeywordDraft;
  set(part: Partial<KeywordDraft>): void;
  problems: Problems['problems'];
}

function Counts({ now, set, choices, problems }: PartProps & Pick<Props, 'choices'>) {
  return (
    <Section title="Where and when it counts">
      <Several
        legend="Heard on these numbers; none ticked: on all"
        none="No number yet: see Numbers."
        all={choices.numbers.map(({ id, number }) => ({ id, name: displayNumber(number) }))}
        chosen={now.senders}
        choose={(senders) => set({ senders })}
        problem={problemOf(problems, 'sender_numbers')}
      />
      <div className="mt-3 grid gap-x-4 sm:grid-cols-2">
        <LabelledInput
          {...{ name: 'valid_from', label: 'From; empty: at once', problems, type: 'datetime-local' }}
          value={now.from}
          set={(from) => set({ from })}
        />
        <LabelledInput
          {...{ name: 'valid_to', label: 'Until; empty: no end', problems, type: 'datetime-local' }}
          value={now.to}
          set={(to) => set({ to })}
        />
        {now.from !== '' && (
          <LabelledInput
            {...{ name: 'before_words', label: 'Answered before; empty: words of ours', problems }}
            maxLength={300}
            value={now.beforeWords}
            set={(beforeWords) => set({ beforeWords })}
          />
        )}
        {now.to !== '' && (
          <LabelledInput
            {...{ name: 'after_words', label: 'Answered after; empty: words of ours', problems }}
            maxLength={300}
            value={now.afterWords}
            set={(afterWords) => set({ afterWords })}
          />
        )}
      </div>
    </Section>
  );
}

const SAMPLE = '000000000';

/** The answer as somebody reads it of whom only the number is known. */
function Answer({ now, keyword, program, wording, publicUrl, choices }: Props & { now: KeywordDraft }) {
  const offer = choices.offers.find(({ id }) => id === now.offer);
  const parsed = parseTemplate(now.welcome.trim() === '' ? templateFromPlain(program.welcome) : now.welcome);
  const link = `${publicUrl}/v/${SAMPLE}`;
  const code = { 'voucher.code': showCode(SAMPLE), 'voucher.link': link };
  const { text: words, empty } = parsed.ok
    ? parsed.value.render({
        ...(offer ? code : {}),
        'program.name': program.name,
        'business.name': wording.business,
      })
    : { text: '', empty: [] };
  const named = parsed.ok && parsed.value.fields.some(({ name }) => name.startsWith('voucher.'));
  const told = offer && !named ? voucherWords({ words: offer.words, code: SAMPLE, link }) : '';
  const answer = confirmationText(wording, [words, told].filter(Boolean).join(' '));
  const day = now.from === '' ? null : dayOf(now.from);
  const notices = [
    ...(now.from === ''
      ? []
      : [['before', keywordNotice('before', { ...of(keyword, wording), words: now.beforeWords, day })]]),
    ...(now.to === ''
      ? []
      : [['after', keywordNotice('after', { ...of(keyword, wording), words: now.afterWords, day })]]),
  ] as [string, string][];
  return (
    <>
      <Section title="What is answered">
        {program.doubleOptIn && <Said title="first, the question" text={doubleOptInText(wording)} />}
        <Said title={program.doubleOptIn ? 'after their YES' : 'at once'} text={answer} />
        <Asked now={now} own={choices.own} />
        {notices.map(([title, text]) => (
          <Said key={title} title={title} text={text} />
        ))}
        {empty.length > 0 && (
          <p className="text-sm text-wait">
            ! A field without a word to stand in is empty for new people: the program’s own words go instead.
          </p>
        )}
      </Section>
      {now.offer !== keyword.offer && now.offer !== null && (
        <p className="mb-6 text-sm text-soft">
          From the next who text it on, each gets a voucher of this offer.
        </p>
      )}
    </>
  );
}

/** The questions as they will be read, one after the other. */
function Asked({ now: { questions, thanks }, own }: { now: KeywordDraft; own: OwnField[] }) {
  const texts = questions.flatMap((question) => {
    const asked = askedOf(question.field, own);
    return asked ? [questionText(question, asked)] : [];
  });
  return (
    <>
      {texts.map((text, place) => (
        <Said key={place} title={place === 0 ? 'then' : 'after their answer'} text={text} />
      ))}
      {texts.length > 0 && thanks.trim() !== '' && <Said title="at the end" text={thanks} />}
    </>
  );
}

const of = (keyword: { word: string }, { business }: ProgramWording) => ({ business, keyword: keyword.word });

const dayOf = (local: string): string =>
  new Date(`${local}:00Z`).toLocaleDateString('en-US', { timeZone: 'UTC', day: 'numeric', month: 'long' });

function Said({ title, text }: { title: string; text: string }) {
  const { parts } = measure(text);
  return (
    <div className="mb-3 border-b border-rule pb-2">
      <div className="flex justify-between gap-4 text-sm text-soft">
        <span>{title}</span>
        <span>{plural(parts, 'part')}</span>
      </div>
      <p className="break-words">{text}</p>
    </div>
  );
}
