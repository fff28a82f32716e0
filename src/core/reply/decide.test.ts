import { describe, expect, it } from 'vitest';
import { NO_CONSENT, type Consent } from '../consent/ledger';
import { decideReply, type ReplyContext } from './decide';
import { interpret } from './interpret';

const consent = (state: Consent['state'], wasIn = state === 'in' || state === 'out'): Consent => ({
  ...NO_CONSENT,
  state,
  wasIn,
});
const context = (body: string, over: Partial<ReplyContext> = {}): ReplyContext => ({
  interpretation: interpret(body, { keywords: ['sky'], questionPending: false }),
  programs: [
    { programId: 'sky', doubleOptIn: false, archived: false, consent: NO_CONSENT },
    { programId: 'dome', doubleOptIn: false, archived: false, consent: NO_CONSENT },
  ],
  keywordProgramId: 'sky',
  keywordStands: 'now',
  offerProgramId: null,
  subjectProgramId: 'sky',
  stopped: false,
  unclear: false,
  answeredJustNow: false,
  mayBegin: true,
  ...over,
});
const withConsent = (sky: Consent, dome: Consent = NO_CONSENT, doubleOptIn = false) => ({
  programs: [
    { programId: 'sky', doubleOptIn, archived: false, consent: sky },
    { programId: 'dome', doubleOptIn: false, archived: false, consent: dome },
  ],
});

describe('decideReply', () => {
  it('joins the keyword’s program and confirms', () =>
    expect(decideReply(context('sky'))).toMatchObject({
      consents: [{ programId: 'sky', kind: 'opted-in' }],
      answers: [{ kind: 'confirmation' }],
      waiting: false,
    }));

  it('asks first where the program wants a double opt-in', () =>
    expect(decideReply(context('sky', withConsent(NO_CONSENT, NO_CONSENT, true)))).toMatchObject({
      consents: [{ kind: 'asked' }],
      answers: [{ kind: 'question' }],
    }));

  it('leaves every program on STOP, calls back what waits, confirms once', () => {
    const decision = decideReply(context('stop', withConsent(consent('in'))));
    expect(decision.consents.map(({ programId, kind }) => `${programId} ${kind}`)).toEqual([
      'sky opted-out',
      'dome opted-out',
    ]);
    expect(decision).toMatchObject({
      cancelQueued: true,
      stopped: true,
      answers: [{ kind: 'opt-out-confirmation' }],
    });
  });

  it('does not answer a second STOP', () =>
    expect(
      decideReply(context('stop', { ...withConsent(consent('out'), consent('out')), stopped: true })).answers,
    ).toEqual([]));

  it('brings back on START only what was agreed to before', () => {
    const decision = decideReply(
      context('start', { ...withConsent(consent('out', true), consent('out', false)), stopped: true }),
    );
    expect(decision.consents).toEqual([{ programId: 'sky', kind: 'opted-in' }]);
    expect(decision.stopped).toBe(false);
  });

  it('makes no consent of START from somebody who never agreed', () =>
    expect(decideReply(context('start'))).toMatchObject({ consents: [], answers: [], waiting: true }));

  it('answers HELP also to those who left', () =>
    expect(decideReply(context('help', { stopped: true })).answers).toEqual([
      { programId: 'sky', kind: 'help', resumed: false },
    ]));

  it('holds and asks a human when unsure', () =>
    expect(decideReply(context('this is spam', withConsent(consent('in'))))).toMatchObject({
      unclear: true,
      waiting: true,
      consents: [],
    }));

  it('waits for nobody where a sign was pressed on a text, and changes nothing', () =>
    expect(decideReply(context('Liked “Clear tonight. Reply STOP to stop.”'))).toMatchObject({
      ...{ consents: [], answers: [], cancelQueued: false, stopped: false, waiting: false },
    }));

  it('keeps an earlier doubt until a human or the person ends it', () => {
    expect(decideReply(context('thanks', { unclear: true })).unclear).toBe(true);
    expect(decideReply(context('sky', { unclear: true })).unclear).toBe(false);
  });

  it('does not loop when a keyword is repeated', () =>
    expect(
      decideReply(context('sky', { ...withConsent(consent('in')), answeredJustNow: true })),
    ).toMatchObject({ consents: [], answers: [] }));

  it.each(['before', 'after'] as const)(
    'says so %s the time of a keyword, and changes nothing',
    (keywordStands) =>
      expect(
        decideReply(context('sky', { ...withConsent(consent('out', true)), keywordStands, stopped: true })),
      ).toMatchObject({
        consents: [],
        answers: [{ kind: 'notice', about: keywordStands }],
        stopped: true,
      }),
  );

  it('asks whoever nearly typed a keyword, unless something speaks against it', () => {
    const asks = (over: Partial<ReplyContext>) =>
      decideReply(context('skyy', { offerProgramId: 'sky', ...over })).answers.length;
    expect(asks({})).toBe(1);
    expect(decideReply(context('skyy', { offerProgramId: 'sky' })).waiting).toBe(true);
    for (const against of [
      { stopped: true },
      { unclear: true },
      { mayBegin: false },
      { offerProgramId: null },
      withConsent(consent('in')),
      withConsent(consent('asked')),
      withConsent(consent('out')),
    ])
      expect(asks(against)).toBe(0);
  });
});
