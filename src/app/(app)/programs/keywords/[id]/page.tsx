import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { doubtAbout } from '@/core/keyword/keyword';
import { readNearMisses } from '@/services/inbox/near-misses';
import { publicUrl } from '@/services/kit/settings';
import { postersOf } from '@/services/posters/posters';
import { callToActionOf, readKeywordScreen } from '@/services/programs/keyword-screen';
import { wordingOf } from '@/services/programs/wording';
import { getContext } from '@/services/runtime';
import { readFunnel } from '@/services/questions/screen';
import { readOwnNumber } from '@/services/sequences/own-number';
import { count } from '@/ui/kit/numbers';
import { Facts, Section } from '@/ui/kit/page';
import { dayAndTime, localTime } from '@/ui/kit/time';
import { KeywordDesk } from '@/ui/programs/keyword-desk';
import { CallReader, Misspellings, TryKeyword } from '@/ui/programs/keyword-more';
import { PosterList } from '@/ui/posters/poster-list';
import { QuestionFunnel } from '@/ui/programs/question-funnel';
import { readScreen } from '../../../../session';
import { createPosterAction } from '../../posters/actions';
import { askNumberAction, giveCodeAction } from '../../sequences/trial-actions';
import { countSpellingAction, dropSpellingAction, saveKeywordAction, tryKeywordAction } from '../actions';

export const metadata: Metadata = { title: 'Keyword' };

export default async function KeywordPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const ctx = await getContext();
  const { data, session } = await readScreen(async (scope, { accountId }, now) => {
    const read = await readKeywordScreen(scope, id);
    if (!read) return null;
    return {
      ...read,
      call: (await callToActionOf(scope, id))!,
      misses: await readNearMisses(scope, now, read.keyword.word),
      posters: await postersOf(scope, { keywordId: id }),
      funnel: await readFunnel(scope, read.keyword),
      own: await readOwnNumber(ctx, scope, accountId),
    };
  });
  if (!data) notFound();
  const { keyword, program, workspace, choices, counts } = data;
  const word = keyword.word.toUpperCase();
  const mayEdit = may(session.role, 'edit-programs');
  const doubt = doubtAbout(keyword.word);
  const local = (at: Date | null): string => (at ? localTime(at, workspace.zone) : '');
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href={`/programs/${program.id}`}>
        {program.name}
      </Link>
      <h1 className={doubt ? 'mb-1' : 'mb-4'}>{word}</h1>
      {doubt && <p className="mb-3 text-sm text-wait">! {doubt}</p>}
      <KeywordDesk
        keyword={{
          ...{ id, word: keyword.word, stamp: keyword.stamp, welcome: keyword.welcome ?? '' },
          ...{ labels: data.labels, sequences: data.sequences, senders: data.senders },
          ...{ offer: keyword.offerId, from: local(keyword.validFrom), to: local(keyword.validTo) },
          ...{ beforeWords: keyword.beforeWords, afterWords: keyword.afterWords },
          ...{ questions: keyword.questions, thanks: keyword.thanks },
          ...{ linkDays: keyword.linkDays, taskAfter: keyword.taskAfter },
        }}
        program={{ name: program.name, welcome: program.welcome, doubleOptIn: program.doubleOptIn }}
        wording={wordingOf(workspace, program)}
        publicUrl={publicUrl()}
        choices={{
          labels: choices.labels.map(({ id: key, name, kind }) => ({ id: key, name, kind })),
          sequences: choices.sequences.map(({ id: key, name }) => ({ id: key, name })),
          offers: choices.offers.map(({ id: key, name, words }) => ({ id: key, name, words })),
          own: choices.own.map(({ key, label, kind, options }) => ({ key, label, kind, options })),
          numbers: choices.numbers.map(({ id: key, number }) => ({ id: key, number })),
        }}
        mayEdit={mayEdit}
        save={saveKeywordAction}
        margin={
          <>
            <Section title="What came of it">
              <Facts
                rows={[
                  ['texted it', `${count(counts.people)} (${count(counts.texts)} texts)`],
                  ['joined by it', count(counts.joined)],
                  ['still in', count(counts.still_in)],
                ]}
              />
            </Section>
            <PosterList
              posters={data.posters.map(({ id: key, document }) => ({ id: key, document }))}
              of={{ keyword: id }}
              mayEdit={mayEdit}
              create={createPosterAction}
            />
            {mayEdit && (
              <TryKeyword
                keywordId={id}
                programId={program.id}
                own={data.own}
                acts={{ ask: askNumberAction, give: giveCodeAction, send: tryKeywordAction }}
              />
            )}
          </>
        }
      >
        <QuestionFunnel {...data.funnel} />
        <Misspellings
          keywordId={id}
          word={word}
          rows={data.misses.map(({ spelling, texts, people, last, open }) => ({
            ...{ spelling, texts, people, waiting: open.length },
            last: dayAndTime(new Date(last), workspace.zone),
          }))}
          spellings={data.spellings}
          mayEdit={mayEdit}
          count={countSpellingAction}
          drop={dropSpellingAction}
        />
        <CallReader call={data.call} />
      </KeywordDesk>
    </main>
  );
}
