'use client';
import { useRouter } from 'next/navigation';
import { useState, useTransition } from 'react';
import { Problem } from '@/ui/kit/problem';
import { QrPicture } from '@/ui/kit/qr-picture';
import { fullDay } from '@/ui/kit/time';

export interface FactorOutcome {
  /** A sentence when it was refused. */
  problem: string | null;
  secret?: string;
  picture?: boolean[][];
  /** Codes for paper, shown once. */
  codes?: string[];
}

interface Props {
  since: number | null;
  codesLeft: number;
  zone: string;
  /** Where it leads once it is set up; left out: nowhere else. */
  goOn?: string;
  acts: {
    begin(): Promise<FactorOutcome>;
    confirm(code: string): Promise<FactorOutcome>;
    renew(code: string): Promise<FactorOutcome>;
    drop(code: string): Promise<FactorOutcome>;
  };
}

/** A second factor: set up by scanning and giving a first code, kept with codes on paper, turned off by a code. */
export function SecondFactor({ since, codesLeft, zone, goOn, acts }: Props) {
  const [shown, setShown] = useState<FactorOutcome | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const router = useRouter();
  const run = (work: () => Promise<FactorOutcome>) =>
    start(async () => {
      const outcome = await work();
      setProblem(outcome.problem);
      if (outcome.problem !== null) return;
      setShown(outcome);
      router.refresh();
    });
  if (shown?.codes) return <PaperCodes codes={shown.codes} goOn={goOn} onDone={() => setShown(null)} />;
  if (since === null)
    return shown?.secret ? (
      <div>
        <p className="mb-3">Scan this with an app for one-time codes, or type the text below it.</p>
        {shown.picture && <QrPicture rows={shown.picture} label="The secret as a QR code" className="w-48" />}
        <p className="my-3 font-mono [overflow-wrap:anywhere]">{shown.secret}</p>
        <CodeForm
          label="The code it shows now"
          submit="Turn it on"
          {...{ pending, problem }}
          onCode={(code) => run(() => acts.confirm(code))}
        />
      </div>
    ) : (
      <div>
        <p className="mb-3 text-soft">
          There is none: whoever knows your password gets in. With one, a code of an app on your phone is
          asked too.
        </p>
        <button
          type="button"
          className="button button-main"
          disabled={pending}
          onClick={() => run(acts.begin)}
        >
          Set one up
        </button>
        <Problem>{problem}</Problem>
      </div>
    );
  return (
    <div className="space-y-4">
      <p>
        On since {fullDay(since, zone)}; {codesLeft} codes on paper are left.
      </p>
      <CodeForm
        label="A code of your app"
        submit="Other codes on paper"
        other={{ submit: 'Turn it off', onCode: (code) => run(() => acts.drop(code)) }}
        {...{ pending, problem }}
        onCode={(code) => run(() => acts.renew(code))}
      />
    </div>
  );
}

function CodeForm({
  label,
  submit,
  other,
  pending,
  problem,
  onCode,
}: {
  label: string;
  submit: string;
  other?: { submit: string; onCode(code: string): void };
  pending: boolean;
  problem: string | null;
  onCode(code: string): void;
}) {
  const [code, setCode] = useState('');
  return (
    <form
      className="max-w-sm"
      onSubmit={(event) => {
        event.preventDefault();
        onCode(code);
        setCode('');
      }}
    >
      <label className="block text-sm text-soft">
        {label}
        <input
          className="input mt-1 text-ink"
          autoComplete="one-time-code"
          maxLength={40}
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      </label>
      <Problem>{problem}</Problem>
      <div className="mt-2 flex gap-2">
        <button className="button" disabled={pending || code.trim() === ''}>
          {submit}
        </button>
        {other && (
          <button
            type="button"
            className="button"
            disabled={pending || code.trim() === ''}
            onClick={() => (other.onCode(code), setCode(''))}
          >
            {other.submit}
          </button>
        )}
      </div>
    </form>
  );
}

function PaperCodes({ codes, goOn, onDone }: { codes: string[]; goOn: string | undefined; onDone(): void }) {
  return (
    <div>
      <p className="mb-3">
        Write these down and keep them away from the phone. Each opens the door once when the app is gone;
        they are shown only now.
      </p>
      <ul className="mb-4 grid max-w-sm grid-cols-2 gap-x-6 font-mono">
        {codes.map((code) => (
          <li key={code} className="border-b border-rule py-1">
            {code}
          </li>
        ))}
      </ul>
      {goOn ? (
        <a className="button button-main" href={goOn}>
          I have them: go on
        </a>
      ) : (
        <button type="button" className="button button-main" onClick={onDone}>
          I have them
        </button>
      )}
    </div>
  );
}
