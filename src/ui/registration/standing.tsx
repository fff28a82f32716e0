import { Link } from '@/ui/kit/link';
import type { Forecast } from '@/core/registration/forecast';
import type { RegistrationState } from '@/core/registration/life';
import type { FormState } from '@/ui/kit/form-state';
import { Facts, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { likelyWords, nextWords, StandMark } from './stand';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

/** A registration as screens show it. */
export interface ShownRegistration {
  id: string;
  state: RegistrationState;
  reason: string | null;
  handedInAt: Date | null;
  decidedAt: Date | null;
  change: { state: 'waiting' | 'in-review' | 'refused'; reason: string | null } | null;
}

export interface ShownStep {
  id: number;
  event: string;
  reason: string | null;
  by: string | null;
  at: Date;
}

interface Props {
  about: 'brand' | 'program' | 'number';
  subject: string;
  row: ShownRegistration | null;
  forecast: Forecast | null;
  /** What stands here and is not what the reviewer has. */
  broken: readonly string[];
  /** Something must be mended first. */
  blocked: boolean;
  /** Null: no registrar is connected. */
  registrar: string | null;
  steps: readonly ShownStep[];
  zone: string;
  /** Null: this teammate may look only. */
  acts: { handIn: Act; takeBack: Act } | null;
}

const STEP_WORDS: Record<string, string> = {
  'hand-in': 'handed in',
  'call-back': 'taken back',
  bring: 'the registrar has it',
  ask: 'they asked',
  answer: 'answered',
  register: 'registered',
  refuse: 'refused',
  withdraw: 'withdrawn by them',
  change: 'a change handed in',
  'change-taken': 'the change taken over',
  'change-refused': 'the change refused',
};

/** How the registration of one thing stands, who acts next, and what may be done. */
export function StandingSection({
  about,
  subject,
  row,
  forecast,
  broken,
  blocked,
  registrar,
  steps,
  zone,
  acts,
}: Props) {
  const state = row?.state ?? 'draft';
  const open = state === 'waiting' || state === 'in-review' || state === 'question';
  const again = state === 'registered';
  const looked = row?.change?.state === 'waiting' || row?.change?.state === 'in-review';
  return (
    <>
      <Section title="How it stands" note={<StandMark state={state} />}>
        <Facts
          rows={[
            ['who acts next', again && broken.length > 0 && !looked ? 'you' : nextWords(state)],
            ...(row?.handedInAt ? [['handed in', dayAndTime(row.handedInAt, zone)] as [string, string]] : []),
            ...(row?.decidedAt && !open
              ? [['decided', dayAndTime(row.decidedAt, zone)] as [string, string]]
              : []),
          ]}
        />
        {forecast && open && <p className="mt-1 text-sm">{likelyWords(forecast, zone)}</p>}
        {row?.reason && <p className="mt-1 text-sm text-bad [overflow-wrap:anywhere]">{row.reason}</p>}
        {row?.change && (
          <p className="mt-1 text-sm">
            {row.change.state === 'refused'
              ? `The change was refused${row.change.reason ? `: ${row.change.reason}` : '.'} What was registered before counts.`
              : 'A change is looked at. What was registered before counts until then.'}
          </p>
        )}
        {broken.length > 0 && !looked && (
          <>
            <p className="mt-2 text-sm text-wait">Not what the reviewer has:</p>
            <ul className="text-sm">
              {broken.map((sentence) => (
                <li key={sentence} className="border-b border-rule py-1">
                  {sentence}
                </li>
              ))}
            </ul>
          </>
        )}
        {acts && (
          <div className="mt-3">
            {open && row ? (
              <PlainForm action={acts.takeBack} submit="Take it back" hidden={{ id: row.id }} />
            ) : registrar === null ? (
              <p className="text-sm text-soft">
                To hand it in, connect a registrar under{' '}
                <Link className="link" href="/numbers/registration">
                  Registration
                </Link>
                .
              </p>
            ) : blocked ? (
              <p className="text-sm text-soft">
                It can be handed in once what must be mended is, and is kept.
              </p>
            ) : (
              (!again || (broken.length > 0 && !looked)) && (
                <PlainForm
                  action={acts.handIn}
                  submit={
                    again ? 'Hand in the change' : state === 'draft' ? 'Hand it in' : 'Hand it in again'
                  }
                  hidden={{ about, subject }}
                />
              )
            )}
          </div>
        )}
      </Section>
      {steps.length > 0 && (
        <Section title="What happened">
          <ul className="text-sm">
            {steps.map(({ id, event, reason, at }) => (
              <li key={id} className="flex gap-3 border-b border-rule py-1">
                <span className="shrink-0 tabular-nums text-soft">{dayAndTime(at, zone)}</span>
                <span className="[overflow-wrap:anywhere]">
                  {STEP_WORDS[event] ?? event}
                  {reason && <span className="text-soft">: {reason}</span>}
                </span>
              </li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
}
