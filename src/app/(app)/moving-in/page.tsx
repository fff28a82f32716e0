import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import type { StepCode } from '@/core/access/moving-in';
import { readMovingIn } from '@/services/team/screen';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Moving in' };

const STEPS: Record<StepCode, { title: string; why: string; href: string; does: string }> = {
  number: {
    title: 'A sender number',
    why: 'Texts leave from a number the carrier has registered for you. At the test bench any number will do.',
    ...{ href: '/numbers', does: 'Enter a number' },
  },
  program: {
    title: 'A program',
    why: 'What people agree to: its name, what is sent, and how often at most. Everything sent belongs to one.',
    ...{ href: '/programs/new', does: 'Make a program' },
  },
  'program-number': {
    title: 'A number for a program',
    why: 'None of your programs has a number that is registered: nothing could leave.',
    ...{ href: '/programs', does: 'Choose its numbers' },
  },
  keyword: {
    title: 'A keyword',
    why: 'People join by texting it. It works as soon as it is saved, and the confirmation has the wording the rules ask for.',
    ...{ href: '/programs', does: 'Add a keyword' },
  },
  credits: {
    title: 'Credits',
    why: 'A text takes one for each of its parts. Without any nothing leaves but what the law asks for.',
    ...{ href: '/credits', does: 'Write down what you bought' },
  },
  member: {
    title: 'Somebody who agreed',
    why: 'Text the keyword from your own phone, or import people who agreed, with the proof of it.',
    ...{ href: '/people/imports', does: 'Import people' },
  },
  'postal-address': {
    title: 'A postal address, for e-mail',
    why: 'The law of most countries wants one under every letter to many. Texts need none.',
    ...{ href: '/settings#mail', does: 'Write it down' },
  },
  teammate: {
    title: 'Somebody else who can answer',
    why: 'Replies come at any hour. A second owner keeps the workspace from being shut out of itself.',
    ...{ href: '/team', does: 'Invite somebody' },
  },
};

export default async function MovingInPage() {
  const { data } = await readScreen((scope) => readMovingIn(scope));
  const needed = data.steps.filter((step) => step.needed);
  const others = data.steps.filter((step) => !step.needed);
  return (
    <Page
      title="Moving in"
      margin={
        <Section title="What then happens">
          <p className="text-soft">
            {data.missing === 0
              ? 'The first text can leave: text a keyword to your number, and the confirmation comes back.'
              : `${plural(data.missing, 'thing is', 'things are')} missing before the first text. Come back whenever you like: what is done stays done.`}
          </p>
          {data.waiting > 0 && (
            <p className="mt-2 text-soft">
              {plural(data.waiting, 'number waits', 'numbers wait')} for its registration. Texts from it are
              held until then.
            </p>
          )}
        </Section>
      }
    >
      <Steps title="Before the first text" steps={needed} />
      <Steps title="Good to have" steps={others} />
    </Page>
  );
}

function Steps({ title, steps }: { title: string; steps: { code: StepCode; done: boolean }[] }) {
  return (
    <Section title={title}>
      <ul>
        {steps.map(({ code, done }) => {
          const { title: name, why, href, does } = STEPS[code];
          return (
            <li
              key={code}
              className="flex flex-wrap items-baseline justify-between gap-3 border-b border-rule py-2.5"
            >
              <div className="max-w-[34rem]">
                <span className="font-semibold">{name}</span>
                {!done && <p className="text-soft">{why}</p>}
              </div>
              {done ? (
                <Mark tone="good">done</Mark>
              ) : (
                <Link className="button" href={href}>
                  {does}
                </Link>
              )}
            </li>
          );
        })}
      </ul>
    </Section>
  );
}
