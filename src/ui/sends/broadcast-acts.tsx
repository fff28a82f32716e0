'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface BroadcastAct {
  act: string;
  label: string;
  main: boolean;
  /** It cannot be taken back: asked once more, with what it does. */
  sure?: { says: string; yes: string };
}

interface Props {
  id: string;
  acts: BroadcastAct[];
  action: Act;
}

/** What can be done with a broadcast as it stands. Dangerous things say what they will do, and are asked. */
export function BroadcastActs({ id, acts, action }: Props) {
  return (
    <div className="flex flex-wrap gap-2">
      {acts.map(({ act, label, main, sure }) =>
        sure ? (
          <Popover key={act} className="relative">
            <PopoverButton className="button">{label}</PopoverButton>
            <PopoverPanel
              anchor="bottom end"
              focus
              className="z-20 mt-1 w-80 border border-ink bg-paper p-4 text-left"
            >
              {({ close }) => (
                <>
                  <p className="mb-3">{sure.says}</p>
                  <div className="flex flex-wrap gap-2">
                    <button type="button" className="button" onClick={() => close()}>
                      Not now
                    </button>
                    <ActForm {...{ id, act, action }} label={sure.yes} main />
                  </div>
                </>
              )}
            </PopoverPanel>
          </Popover>
        ) : (
          <ActForm key={act} {...{ id, act, action, label, main }} />
        ),
      )}
    </div>
  );
}

const ActForm = ({ id, act, label, main, action }: Omit<BroadcastAct, 'sure'> & Omit<Props, 'acts'>) => (
  <Form action={action} submit={label} main={main}>
    {() => (
      <>
        <input type="hidden" name="broadcast" value={id} />
        <input type="hidden" name="act" value={act} />
      </>
    )}
  </Form>
);
