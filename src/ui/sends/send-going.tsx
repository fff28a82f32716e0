'use client';
import { useEffect, useId, useMemo, useState } from 'react';
import { EVERYBODY, type Condition } from '@/core/audience/condition';
import { isEverybody } from '@/core/audience/left-out';
import { CutBuilder } from '@/ui/audience/cut-builder';
import type { Askable } from '@/ui/audience/leaf-editor';
import { askServer } from '@/ui/kit/ask';
import { Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { plural } from '@/ui/kit/numbers';
import { PaceFields } from './draft-when';
import type { DraftTiming } from './draft-values';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

/** Slower or faster, while it goes out. */
export function PaceForm({
  id,
  pace: first,
  action,
}: {
  id: string;
  pace: DraftTiming['pace'];
  action: Act;
}) {
  const [pace, setPace] = useState(first);
  const field = useId();
  return (
    <Form action={action} submit="Change the pace" main={false}>
      {() => (
        <>
          <input type="hidden" name="broadcast" value={id} />
          <input type="hidden" name="pace" value={JSON.stringify(pace)} />
          <PaceFields id={field} pace={pace} set={setPace} />
        </>
      )}
    </Form>
  );
}

/** Not these people any more: whoever meets the cut and still waits is called back. */
export function LeaveOutForm({ id, askable, action }: { id: string; askable: Askable; action: Act }) {
  const [condition, setCondition] = useState<Condition>(EVERYBODY);
  const waiting = useWaiting(id, condition);
  const nobody = isEverybody(condition) || waiting === 0;
  return (
    <details>
      <summary>Not these people any more</summary>
      <div className="mt-2 border-l-2 border-rule pl-4">
        <CutBuilder
          condition={condition}
          askable={askable}
          counts={null}
          problems={[]}
          change={setCondition}
        />
        {nobody ? (
          <p className="mt-2 text-soft">
            {isEverybody(condition) ? 'Say who shall not get it.' : 'Nobody of them waits for it.'}
          </p>
        ) : (
          <Form
            action={action}
            submit={
              waiting === null ? 'Counting …' : `Call back ${plural(waiting, 'message')} that wait for them`
            }
            main={false}
          >
            {() => (
              <>
                <input type="hidden" name="broadcast" value={id} />
                <input type="hidden" name="condition" value={JSON.stringify(condition)} />
              </>
            )}
          </Form>
        )}
      </div>
    </details>
  );
}

/** How many of a cut still wait for it; null: that is being counted. */
function useWaiting(id: string, condition: Condition): number | null {
  const json = useMemo(() => JSON.stringify(condition), [condition]);
  const [counted, setCounted] = useState<{ json: string; waiting: number } | null>(null);
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      askServer<{ waiting: number }>('/internal/waiting', { id, condition: json }, abort.signal).then(
        ({ waiting }) => setCounted({ json, waiting }),
        () => {},
      );
    }, 250);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [id, json]);
  return counted?.json === json ? counted.waiting : null;
}
