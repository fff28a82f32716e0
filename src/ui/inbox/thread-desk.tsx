'use client';
import { useState } from 'react';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import type { TemplateValues } from '@/core/text/template';
import { dayAndTime, timeLeft } from '@/ui/kit/time';
import { Countdown } from '@/ui/kit/countdown';
import { useNow } from '@/ui/kit/use-now';
import { PlainForm } from '@/ui/kit/plain-form';
import { AnswerWriter, type SuggestedAnswer } from './answer-writer';
import { Field, Form } from '@/ui/kit/form';
import { LeaveDesk, PauseFields, type LeaveActs, type LeaveDeskProps } from './leave-desk';
import type { FormState } from '@/ui/kit/form-state';
import type { KeptFile } from '@/core/media/kinds';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  personId: string;
  unclear: boolean;
  nearKeyword: string | null;
  waiting: boolean;
  stopped: boolean;
  /** Ways to answer, the one they last wrote by first. */
  ways: Channel[];
  /** What can be put into an answer, and what it says of them. */
  fields: readonly MergeField[];
  values: TemplateValues;
  /** Files that may go along. */
  kept: readonly KeptFile[];
  /** Their chat, and until when it may be answered in words of one’s own; null: they have none. */
  chat: ChatWindow | null;
  leaving: Omit<LeaveDeskProps, 'personId' | 'stopped' | 'acts'>;
  /** What stands around an answer; left out: nothing. */
  answering?: AnsweringProps;
  acts: { answer: Act; close: Act; stays: Act; nearMiss: Act; takeBack?: Act } & LeaveActs;
}

export interface ChatWindow {
  /** The account they wrote to; null: they never wrote by chat. */
  account: string | null;
  /** Null: it is closed. */
  until: number | null;
  now: number;
  zone: string;
}

const HINTS: Record<Channel, string> = {
  sms: 'A text goes from the number they wrote to.',
  email: 'An e-mail stands under theirs, as an answer.',
  chat: 'A chat message goes from the account they wrote to.',
  voicemail: '',
};

const Person = ({ id }: { id: string }) => <input type="hidden" name="person" value={id} />;

/** What can be done about a thread: answer, decide an unclear reply, take a near miss, opt out by hand. */
export function ThreadDesk({
  personId,
  unclear,
  nearKeyword,
  waiting,
  stopped,
  ways,
  fields,
  values,
  kept,
  chat,
  leaving,
  answering,
  acts,
}: Props) {
  const [way, setWay] = useState<Channel | undefined>(ways[0]);
  const chosen = way !== undefined && ways.includes(way) ? way : ways[0]!;
  // The window goes on closing while one writes.
  const at = useNow(chat?.now ?? 0, 15_000);
  const until = chat?.until != null && at < chat.until ? chat.until : null;
  const closed = chosen === 'chat' && until === null;
  const { onItsWay = null, writing = [], suggested = [] } = answering ?? {};
  return (
    <div className="space-y-5">
      {unclear && !leaving.pending && <Undecided personId={personId} leaving={leaving} acts={acts} />}
      {nearKeyword && waiting && (
        <div className="border-l-2 border-wait pl-3">
          <p className="mb-2">They nearly typed the keyword {nearKeyword.toUpperCase()}.</p>
          <Form action={acts.nearMiss} submit={`Take it as ${nearKeyword.toUpperCase()}`}>
            {() => <Person id={personId} />}
          </Form>
        </div>
      )}
      {onItsWay && acts.takeBack && (
        <div role="status" className="border-l-2 border-accent pl-3">
          <p className="mb-2 [overflow-wrap:anywhere]">
            “{onItsWay.body.slice(0, 80)}” goes{' '}
            {onItsWay.not_before.getTime() - answering!.now < 60_000 ? (
              <Countdown to={onItsWay.not_before.getTime()} now={answering!.now} />
            ) : (
              dayAndTime(onItsWay.not_before, answering!.zone)
            )}
            .
          </p>
          <PlainForm
            action={acts.takeBack}
            submit="Take it back"
            hidden={{ person: personId, message: onItsWay.id }}
          />
        </div>
      )}
      {ways.length === 0 ? (
        <p className="border-l-2 border-rule pl-3">
          They have no number and no e-mail address any more: nothing can be sent to them.
        </p>
      ) : stopped && !ways.includes('email') ? (
        <p className="border-l-2 border-bad pl-3">
          They opted out. Nothing can be sent to them; only they can come back.
        </p>
      ) : (
        <Form action={acts.answer} submit="Send the answer">
          {(state) => (
            <>
              <Person id={personId} />
              {answering && <Seen state={state} at={answering.seenAt} />}
              {writing.length > 0 && (
                <p role="status" className="mb-3 border-l-2 border-wait pl-3">
                  {writing.map(({ name }) => name).join(' and ')} {writing.length === 1 ? 'is' : 'are'}{' '}
                  writing to them now.
                </p>
              )}
              {ways.length > 1 ? (
                <Field
                  as="select"
                  name="channel"
                  label="By"
                  state={state}
                  value={chosen}
                  onChange={({ target }) => setWay(target.value as Channel)}
                >
                  {ways.map((way) => (
                    <option key={way} value={way}>
                      {CHANNEL_WORDS[way].message}
                    </option>
                  ))}
                </Field>
              ) : (
                <input type="hidden" name="channel" value={ways[0]} />
              )}
              <div data-thread-key="a">
                <AnswerWriter
                  place={`answer:${personId}`}
                  {...{ state, fields, values, suggested, kept }}
                  hint={
                    chosen === 'chat' && chat
                      ? windowWords({ ...chat, until, now: at })
                      : `${HINTS[chosen]} The key a leads here.`
                  }
                  channel={chosen}
                />
              </div>
              {answering && <After state={state} />}
              {closed && (
                <p className="mb-3 border-l-2 border-bad pl-3">
                  An answer written now would not go: by chat only a template may begin. Choose another way,
                  or send them a broadcast by template.
                </p>
              )}
            </>
          )}
        </Form>
      )}
      {waiting && (
        <div className="flex items-baseline gap-3 border-t border-rule pt-4" data-thread-key="d">
          <Form action={acts.close} submit="No answer needed" main={false}>
            {() => <Person id={personId} />}
          </Form>
          <kbd className="text-soft">d</kbd>
        </div>
      )}
      <LeaveDesk {...leaving} {...{ personId, stopped, acts }} />
    </div>
  );
}

export interface AnsweringProps {
  /** Up to when this page shows the thread: an answer by another since then is told first. */
  seenAt: number;
  writing: readonly { name: string }[];
  onItsWay: { id: string; not_before: Date; body: string } | null;
  suggested: readonly SuggestedAnswer[];
  now: number;
  zone: string;
}

/**
 * Up to when the thread was seen as one began to write: what comes while one writes moves the page on, and is not read by that.
 * Once one was told of it, or has sent, it counts as seen.
 */
function Seen({ state, at }: { state: FormState; at: number }) {
  const [seen, setSeen] = useState({ state, at });
  if (seen.state !== state) setSeen({ state, at });
  return <input type="hidden" name="seen" value={seen.at} />;
}

/** When it goes, and what is done with the thread once it has. */
function After({ state }: { state: FormState }) {
  return (
    <>
      <Field as="select" name="back" label="After it" state={state} defaultValue="">
        <option value="">nothing more to do</option>
        <option value="1">back here tomorrow, if they have not answered</option>
        <option value="2">back here in 2 days, if they have not answered</option>
        <option value="4">back here in 4 days, if they have not answered</option>
        <option value="7">back here in a week, if they have not answered</option>
      </Field>
      <details className="mb-3">
        <summary className="cursor-pointer text-sm">Send it later …</summary>
        <Field name="at" label="Goes at" type="datetime-local" state={state} />
      </details>
    </>
  );
}

/** How the window stands, with the time left. */
const windowWords = ({ account, until, now, zone }: ChatWindow): string =>
  until === null
    ? `The window is closed: ${account === null ? 'they never wrote by chat' : 'they last wrote more than 24 hours ago'}.`
    : `${account}: the window is open for ${timeLeft(until - now)}, until ${dayAndTime(until, zone)}. What you write goes as it stands.`;

/** A reply that only a human may decide: a wish to leave, for a pause, or neither. What it most looks like comes first. */
function Undecided({ personId, leaving, acts }: Pick<Props, 'personId' | 'leaving' | 'acts'>) {
  const { wished, words } = leaving.proposed;
  const pause = (wished || words !== null) && (
    <Form action={acts.pause} submit="They want a pause" main={wished}>
      {(state) => <PauseFields {...leaving} personId={personId} state={state} />}
    </Form>
  );
  return (
    <div className="space-y-3 border-l-2 border-wait pl-3">
      <p>
        {wished ? 'They seem to want quiet for a while.' : 'Their reply may be an opt-out.'} Nothing automatic
        goes to them until you decide.
      </p>
      {wished && pause}
      <div className="flex flex-wrap gap-2">
        <Form action={acts.leave} submit="They want to leave" main={!wished}>
          {() => (
            <>
              <Person id={personId} />
              <input type="hidden" name="why" value="read in their reply" />
              <input type="hidden" name="confirm" value="on" />
            </>
          )}
        </Form>
        <Form action={acts.stays} submit="They stay" main={false}>
          {() => <Person id={personId} />}
        </Form>
      </div>
      {!wished && pause}
    </div>
  );
}
