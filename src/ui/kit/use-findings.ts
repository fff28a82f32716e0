'use client';
import { useEffect, useState } from 'react';
import type { Channel } from '@/core/message/channel';
import type { Finding } from '@/core/wording/finding';
import { askServer } from './ask';

/** What a text is of, for the check of its wording. */
export interface Checked {
  /** The program, by its id or name; null: none yet. */
  program: string | null;
  channel: Channel;
  /** It answers somebody who wrote: they know who writes, and how to stop is said elsewhere. */
  answers: boolean;
}

const NONE: readonly Finding[] = [];

/** Asks a moment after the last keystroke; an older answer never overwrites a newer one. Null: nothing is asked. */
export function useFindings(source: string, checked: Checked | null): readonly Finding[] {
  const [findings, setFindings] = useState(NONE);
  const { program = null, channel = 'sms', answers = false } = checked ?? {};
  const asks = checked !== null && source.trim() !== '';
  useEffect(() => {
    if (!asks) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      const question = { source, program, channel, answers: answers ? 'yes' : 'no' };
      askServer<{ findings: Finding[] }>('/internal/wording', question, abort.signal).then(
        (answer) => setFindings(answer.findings),
        // The check only advises here: without it, writing goes on.
        () => abort.signal.aborted || setFindings(NONE),
      );
    }, 400);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [asks, source, program, channel, answers]);
  return asks ? findings : NONE;
}
