'use client';
import { Countdown } from '@/ui/kit/countdown';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { fullDay } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface LeaveActs {
  leave: Act;
  undoLeave: Act;
  pause: Act;
  endPause: Act;
}

export interface LeaveDeskProps {
  personId: string;
  /** They are out of everything. */
  stopped: boolean;
  programs: { id: string; name: string }[];
  pending: { program: string | null; dueAt: Date } | null;
  pause: { until: Date; said: string | null; why: string; by: string | null } | null;
  proposed: { day: string; words: string | null; wished: boolean };
  mayConfirm: boolean;
  now: number;
  zone: string;
  acts: LeaveActs;
}

/** Who told us that they want to leave, or to hear nothing for a while: asked before it counts, and taken back for some seconds. */
export function LeaveDesk(props: LeaveDeskProps) {
  const { personId, stopped, pending, pause, acts } = props;
  if (pending) return <Pending {...props} pending={pending} />;
  return (
    <div id={LEAVE} className="scroll-mt-24 space-y-3">
      {pause && <Paused {...props} pause={pause} />}
      {!pause && !stopped && (
        <details>
          <summary className="cursor-pointer">Pause for a while …</summary>
          <div className="mt-2 max-w-md border-l border-rule pl-3">
            <Form action={acts.pause} submit="Pause" main={false}>
              {(state) => (
                <>
                  <PauseFields {...props} state={state} />
                  <Field name="why" label="Note" state={state} maxLength={300} autoComplete="off" />
                </>
              )}
            </Form>
          </div>
        </details>
      )}
      {!stopped && (
        <details ref={openWhereAsked}>
          <summary className="cursor-pointer">Opt out by hand …</summary>
          <div className="mt-2 max-w-md border-l border-rule pl-3">
            <Form action={acts.leave} submit="Opt them out">
              {(state) => (
                <>
                  <input type="hidden" name="person" value={personId} />
                  <LeaveFields {...props} state={state} />
                </>
              )}
            </Form>
          </div>
        </details>
      )}
    </div>
  );
}

const LEAVE = 'leave';

/** Whoever came by its address finds it open, and goes on there. */
function openWhereAsked(details: HTMLDetailsElement | null): void {
  if (!details || location.hash !== `#${LEAVE}`) return;
  details.open = true;
  details.querySelector('summary')?.focus();
}

function Pending({
  personId,
  pending,
  now,
  acts,
}: LeaveDeskProps & { pending: { program: string | null; dueAt: Date } }) {
  return (
    <div id={LEAVE} className="border-l-2 border-bad pl-3" role="status">
      <p className="mb-2">
        They are opted out of {pending.program ?? 'everything'}{' '}
        <Countdown key={pending.dueAt.getTime()} to={pending.dueAt.getTime()} now={now} />. After that only
        they can come back.
      </p>
      <Form action={acts.undoLeave} submit="Take it back" main={false}>
        {() => <input type="hidden" name="person" value={personId} />}
      </Form>
    </div>
  );
}

function Paused({
  personId,
  pause,
  zone,
  acts,
}: LeaveDeskProps & { pause: NonNullable<LeaveDeskProps['pause']> }) {
  const because = pause.why || (pause.said && `“${pause.said}”`);
  return (
    <div className="border-l-2 border-wait pl-3">
      <p className="mb-2 [overflow-wrap:anywhere]">
        Paused until {fullDay(pause.until, zone)}: nothing we begin goes to them before, answers do.
        {because && <span className="text-soft"> {because}</span>}
        {pause.by && <span className="text-soft"> Noted by {pause.by}.</span>}
      </p>
      <Form action={acts.endPause} submit="End the pause" main={false}>
        {() => <input type="hidden" name="person" value={personId} />}
      </Form>
    </div>
  );
}

/** The day from which on texts may go again, with what their words say of it. */
export function PauseFields({
  personId,
  proposed,
  state,
}: Pick<LeaveDeskProps, 'personId' | 'proposed'> & { state: FormState }) {
  return (
    <>
      <input type="hidden" name="person" value={personId} />
      <Field
        name="until"
        type="date"
        label="Texts may go again on"
        state={state}
        defaultValue={state.values.until ?? proposed.day}
        {...(proposed.words ? { hint: `They wrote “${proposed.words}”.` } : {})}
      />
    </>
  );
}

function LeaveFields({ programs, mayConfirm, state }: LeaveDeskProps & { state: FormState }) {
  return (
    <>
      <Field as="select" name="program" label="Of" state={state}>
        <option value="">everything, on every channel</option>
        {programs.map(({ id, name }) => (
          <option key={id} value={id}>
            {name} only
          </option>
        ))}
      </Field>
      <Field
        name="why"
        label="How did they tell you?"
        hint="It stands in the consent ledger, such as “on the phone”."
        state={state}
        maxLength={300}
        autoComplete="off"
      />
      {mayConfirm && (
        <label className="mb-3 flex items-center gap-2">
          <input type="checkbox" name="confirm" defaultChecked />
          Send them the final text
        </label>
      )}
    </>
  );
}
