import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readProgramChoices } from '@/services/programs/screen';
import { readOwnNumber } from '@/services/sequences/own-number';
import { readVoiceMessage } from '@/services/voicemail/screen';
import { displayNumber } from '@/core/phone/number';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { BroadcastMark } from '@/ui/sends/broadcast-state';
import { KeptPlayer } from '@/ui/voicemail/player';
import { VoiceDesk } from '@/ui/voicemail/voice-desk';
import { VoiceFindings } from '@/ui/voicemail/voice-findings';
import { readScreen } from '../../../../session';
import { archiveVoiceAction, tryVoiceAction } from '../actions';

export const metadata: Metadata = { title: 'Voice message' };

export default async function VoiceMessagePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen(async (scope, signedIn, now) => ({
    voice: await readVoiceMessage(scope, id),
    programs: await readProgramChoices(scope),
    own: await readOwnNumber({ now: () => now }, scope, signedIn.accountId),
  }));
  if (!data.voice) notFound();
  const { message, recordings, used, findings, context } = data.voice;
  const [newest] = recordings as [(typeof recordings)[number]];
  const zone = session.workspaceZone;
  const maySend = may(session.role, 'send');
  return (
    <Page
      title={message.name}
      actions={
        maySend &&
        message.archivedAt === null && (
          <Link href={`/sends/new?recording=${newest.id}`} className="button button-main">
            Drop it
          </Link>
        )
      }
      margin={
        <>
          <Section title="What there is to mend">
            <VoiceFindings
              findings={[
                ...findings.words.map(({ code, severity, message: words }) => ({ code, severity, words })),
                ...findings.sound,
              ]}
            />
          </Section>
          {maySend && (
            <Section title="On your own phone">
              {data.own.number === null ? (
                <p className="text-sm text-soft">
                  Prove your number once, where a broadcast is written: it takes one text and six digits.
                </p>
              ) : (
                <PlainForm
                  action={tryVoiceAction}
                  submit={`Leave it at ${displayNumber(data.own.number)}`}
                  hidden={{ recording: newest.id }}
                  fields={[
                    {
                      ...{ name: 'program', label: 'From a number of' },
                      options: data.programs.map(({ id: value, name }) => ({ value, label: name })),
                    },
                  ]}
                />
              )}
            </Section>
          )}
          <Section title="Where it was dropped">
            {used.length === 0 ? (
              <p className="text-sm text-soft">Nowhere yet.</p>
            ) : (
              <ul>
                {used.map((broadcast) => (
                  <li key={broadcast.id} className="border-b border-rule py-1">
                    <Link className="link" href={`/sends/${broadcast.id}`}>
                      {broadcast.name}
                    </Link>{' '}
                    <BroadcastMark state={broadcast.state} />
                  </li>
                ))}
              </ul>
            )}
          </Section>
          {maySend && message.archivedAt === null && (
            <PlainForm action={archiveVoiceAction} submit="Take it out of use" hidden={{ message: id }} />
          )}
        </>
      }
    >
      <KeptPlayer id={newest.id} label={message.name} />
      <p className="mt-2 whitespace-pre-wrap [overflow-wrap:anywhere]">{newest.words}</p>
      <p className="mt-1 text-sm text-soft">
        Version {newest.version}, {newest.seconds.toFixed(1)} seconds, {dayAndTime(newest.createdAt, zone)}
      </p>
      {recordings.length > 1 && (
        <details className="mt-3">
          <summary className="cursor-pointer text-soft">Earlier versions</summary>
          <ul>
            {recordings.slice(1).map((one) => (
              <li key={one.id} className="border-b border-rule py-2">
                <KeptPlayer id={one.id} label={`Version ${one.version}`} />
                <p className="text-sm">
                  Version {one.version}, {dayAndTime(one.createdAt, zone)}: {one.words}
                </p>
              </li>
            ))}
          </ul>
        </details>
      )}
      {maySend && message.archivedAt === null && (
        <details className="mt-8 border-t border-ink pt-3">
          <summary className="cursor-pointer font-head text-lg">Another version</summary>
          <div className="pt-4">
            <VoiceDesk
              before={{
                ...{ messageId: id, recordingId: newest.id, words: newest.words, seconds: newest.seconds },
              }}
              context={context}
            />
          </div>
        </details>
      )}
    </Page>
  );
}
