'use client';
import { Link } from '@/ui/kit/link';
import { useCallback, useEffect, useRef, useState, useTransition } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { MOST_ADAPTED } from '@/core/stack/adapt';
import { displayNumber } from '@/core/phone/number';
import { askServer } from '@/ui/kit/ask';
import { count, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { GuestTalk } from './guest-talk';
import { Presses, type PressState } from './presses';

export interface Desk {
  stack: { id: string; name: string; seesNumbers: boolean };
  broadcast: { name: string; state: string; mayAdapt: boolean };
  next: { id: string; personId: string; name: string; address: string | null; body: string }[];
  words: { body: string; by: string } | null;
  leaving: number;
  replies: { personId: string; name: string; since: number; words: string }[];
}

interface Props {
  first: Desk;
  /** Where the desk asks, and what goes along with each question. */
  path: string;
  more: Record<string, string>;
  /** Whoever holds the link: they see this stack and nothing else. */
  guest: boolean;
}

const REASONS = ['I know them and call instead', 'Not for them', 'Wrong person', 'Another time'];
const AGAIN_MS = 2_000;
const LOOK_MS = 10_000;
/** Whoever presses several a second is shown the next at once all the same. */
const APART_MS = 700;
/** So many at hand are few. */
const FEW = 12;

/**
 * Pressing: a press counts at once and once. What was pressed is kept in this browser until the server has it, so that a
 * slow or lost line loses nothing; the next ones are at hand before they are needed.
 */
export function StackDesk({ first, path, more, guest }: Props) {
  const { desk, waiting: pressed, press, skip, adapt, ...state } = usePressing(first, path, more);
  const { lost, ended, done, missed } = state;
  const [skipping, setSkipping] = useState(false);
  const [changing, setChanging] = useState(false);
  const here = desk.next[0];
  const paused = desk.broadcast.state === 'paused';
  useHotkeys('enter, space', (event) => (event.preventDefault(), press()), {
    enabled: !skipping && !changing && !paused,
    // Where something else has the focus the key is for that: nobody sends by going to “Not this one”.
    ignoreEventWhen: ({ target }) =>
      target instanceof Element && target.closest('button, a, summary') !== null,
  });
  useHotkeys('x', () => setSkipping(true), { enabled: here !== undefined && !changing });
  useHotkeys('e', (event) => (event.preventDefault(), setChanging(true)), {
    enabled: here !== undefined && desk.broadcast.mayAdapt && !skipping,
  });
  return (
    <div className="max-w-2xl">
      {lost && (
        <p role="status" className="mb-3 border-l-2 border-wait pl-3">
          No connection. What you pressed is kept here and goes as soon as there is one.
        </p>
      )}
      {ended !== null && (
        <p role="alert" className="mb-3 border-l-2 border-bad pl-3">
          {ended} What you pressed last may not have gone; whoever runs the broadcast sees what did.
        </p>
      )}
      {desk.words && (
        <p role="status" className="mb-3 border-l-2 border-accent pl-3 [overflow-wrap:anywhere]">
          {desk.words.by && <span className="text-soft">{desk.words.by}: </span>}
          {desk.words.body}
        </p>
      )}
      {paused && (
        <p className="mb-3 border-l-2 border-wait pl-3">It is paused. Nothing goes until it goes on.</p>
      )}
      {here ? (
        <section aria-label="Who is next" className="border-y border-ink py-4">
          <h2 className="border-0">
            {here.name || 'No name known'}
            {here.address && <span className="ml-3 text-base text-soft">{displayNumber(here.address)}</span>}
          </h2>
          {changing ? (
            <OtherWords
              key={here.id}
              body={here.body}
              keep={(body) => adapt(here.id, body)}
              close={() => setChanging(false)}
            />
          ) : (
            <p className="my-3 max-w-[62ch] whitespace-pre-wrap [overflow-wrap:anywhere]">{here.body}</p>
          )}
          {changing ? null : skipping ? (
            <div>
              <p className="mb-2">Why not?</p>
              <div className="flex flex-wrap gap-2">
                {REASONS.map((why) => (
                  <button
                    key={why}
                    type="button"
                    className="button"
                    onClick={() => (skip(why), setSkipping(false))}
                  >
                    {why}
                  </button>
                ))}
                <button type="button" className="link" onClick={() => setSkipping(false)}>
                  Back
                </button>
              </div>
            </div>
          ) : (
            <div className="flex flex-wrap items-center gap-3">
              <button
                type="button"
                className="button button-main min-h-12 grow text-lg sm:grow-0"
                aria-disabled={paused}
                onClick={() => !paused && press()}
              >
                Send it <kbd className="pointer-coarse:hidden">Enter</kbd>
              </button>
              <button type="button" className="button min-h-12" onClick={() => setSkipping(true)}>
                Not this one <kbd className="pointer-coarse:hidden">x</kbd>
              </button>
              {desk.broadcast.mayAdapt && (
                <button type="button" className="button min-h-12" onClick={() => setChanging(true)}>
                  Change the words <kbd className="pointer-coarse:hidden">e</kbd>
                </button>
              )}
            </div>
          )}
        </section>
      ) : (
        <p className="border-y border-ink py-4">
          {done + pressed.length === 0
            ? 'Nobody is in your stack now. Who is held until their hour appears here by itself.'
            : 'That was the last one. Thank you. Who is held until their hour appears here by itself.'}
        </p>
      )}
      <p role="status" className="mt-2 text-sm text-soft">
        {count(done)} sent by you here
        {pressed.length > 0 && `, ${count(pressed.length)} on their way to the server`}
        {desk.next.length > 0 &&
          `, ${desk.next.length >= 20 ? '20 or more' : count(desk.next.length)} at hand`}
        .
        {missed > 0 &&
          ` ${plural(missed, 'press', 'presses')} did not count: it was held, or another had it.`}
        {desk.leaving > 30 &&
          ` ${count(desk.leaving)} wait for the numbers, which are slower than hands. They go by themselves; you can go on.`}
      </p>
      <div className="mt-8">
        <Section title="They answered">
          {desk.replies.length === 0 ? (
            <p className="text-soft">Nobody waits for an answer of yours.</p>
          ) : (
            <ul>
              {desk.replies.map((reply) => (
                <li key={reply.personId} className="border-b border-rule py-2">
                  {guest ? (
                    <GuestTalk path={path} reply={reply} />
                  ) : (
                    <>
                      <Link href={`/inbox/${reply.personId}`} className="link">
                        {reply.name || 'No name known'}
                      </Link>
                      <span className="ml-3 [overflow-wrap:anywhere]">{reply.words}</span>
                    </>
                  )}
                </li>
              ))}
            </ul>
          )}
        </Section>
      </div>
    </div>
  );
}

/** The words for this one person, changed before they are pressed. Why they cannot be stands under them, and nothing is lost. */
function OtherWords({
  body,
  keep,
  close,
}: {
  body: string;
  /** Gives why not; null: it is kept. */
  keep(body: string): Promise<string | null>;
  close(): void;
}) {
  const [words, setWords] = useState(body);
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const save = () =>
    start(async () => {
      const why = await keep(words);
      if (why === null) close();
      else setProblem(why);
    });
  return (
    <div className="my-3">
      <label htmlFor="otherwords" className="mb-1 block text-sm text-soft">
        The words for this one
      </label>
      <textarea
        id="otherwords"
        className="input min-h-32 w-full"
        value={words}
        maxLength={MOST_ADAPTED}
        autoFocus
        aria-invalid={problem !== null}
        aria-describedby="otherwordsproblem"
        onChange={({ target }) => setWords(target.value)}
      />
      <p id="otherwordsproblem" role="status" className="my-1 text-bad">
        {problem}
      </p>
      <div className="flex gap-3">
        <button type="button" className="button button-main min-h-12" aria-disabled={pending} onClick={save}>
          Keep these words
        </button>
        <button type="button" className="button min-h-12" onClick={close}>
          As it was
        </button>
      </div>
    </div>
  );
}

function usePressing(first: Desk, path: string, more: Record<string, string>) {
  const [desk, setDesk] = useState(first);
  // What was pressed or passed over here is not shown again, whatever the server still has at hand.
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set());
  const [unread, setUnread] = useState(false);
  const asking = JSON.stringify(more);
  const ask = useCallback(
    <T,>(question: object) => askServer<T>(path, { ...(JSON.parse(asking) as object), ...question }),
    [path, asking],
  );
  const look = useCallback(
    () =>
      ask<Desk>({ act: 'look' })
        .then((found) => (setDesk(found), setUnread(false)))
        .catch(() => setUnread(true)),
    [ask],
  );
  const left = useRef(first.next.length);
  // Who is at hand lasts for some presses: a look after each would double what the server does for thirty who press.
  const settled = useCallback(() => (left.current > FEW ? undefined : look()), [look]);
  const presses = usePresses(first.stack.id, ask, settled);
  useEffect(() => {
    const timer = setInterval(() => void look(), LOOK_MS);
    return () => clearInterval(timer);
  }, [look]);
  const next = desk.next.filter(({ id }) => !gone.has(id) && !presses.state.waiting.includes(id));
  useEffect(() => {
    left.current = next.length;
  }, [next.length]);
  const leave = (id: string) => setGone((old) => new Set([...old, id]));
  const press = () => {
    const here = next[0];
    if (!here) return;
    leave(here.id);
    presses.press(here.id);
  };
  const skip = (why: string) => {
    const here = next[0];
    if (!here) return;
    leave(here.id);
    void ask({ act: 'skip', message: here.id, why })
      // It was not passed over: it stands here again.
      .catch(() => setGone((old) => new Set([...old].filter((id) => id !== here.id))))
      .then(look);
  };
  const adapt = (message: string, body: string): Promise<string | null> =>
    ask({ act: 'adapt', message, body })
      .then(() => look())
      .then(() => null)
      .catch((error: unknown) =>
        error instanceof TypeError
          ? 'No connection. They are kept when there is one: press again.'
          : (error as Error).message,
      );
  return {
    desk: { ...desk, next },
    press,
    skip,
    adapt,
    ...presses.state,
    lost: presses.state.lost || unread,
  };
}

/** Presses of this page, and those of one that was closed before the server had them. */
function usePresses(
  stackId: string,
  ask: <T>(question: object) => Promise<T>,
  settled: () => unknown,
): { state: PressState; press(id: string): void } {
  const presses = useRef<Presses | null>(null);
  const [state, setState] = useState<PressState>(FRESH);
  useEffect(() => {
    const mine = new Presses({
      send: async (ids) =>
        (await ask<{ pressed: string[] }>({ act: 'press', messages: JSON.stringify(ids) })).pressed,
      ...{ kept: localStorage, name: `stack:${stackId}`, againMs: AGAIN_MS, apartMs: APART_MS, settled },
    });
    presses.current = mine;
    const unsubscribe = mine.subscribe(() => setState(mine.read()));
    void mine.flush();
    return () => {
      unsubscribe();
      mine.stop();
    };
  }, [stackId, ask, settled]);
  return { state, press: (id) => presses.current?.press(id) };
}

const FRESH: PressState = { waiting: [], done: 0, missed: 0, lost: false, ended: null };
