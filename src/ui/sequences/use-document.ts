import { sentenceOf } from '@/core/shared/sentence';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { SequenceDocument } from '@/core/sequence/document';
import type { Warning } from '@/core/sequence/check';
import type { SequenceActs } from './types';

const MOST_STEPS = 200;
/** Typing is one step back, not one for each letter. */
const TOGETHER_MS = 800;
const SAVE_MS = 700;

interface History {
  past: SequenceDocument[];
  now: SequenceDocument;
  future: SequenceDocument[];
}

/** The document as it is written, with the way back and forth. */
export function useDocument(initial: SequenceDocument) {
  const [history, setHistory] = useState<History>({ past: [], now: initial, future: [] });
  const last = useRef(0);
  const change = useCallback((next: (document: SequenceDocument) => SequenceDocument) => {
    const at = Date.now();
    const together = at - last.current < TOGETHER_MS;
    last.current = at;
    setHistory(({ past, now }) => {
      const changed = next(now);
      if (changed === now) return { past, now, future: [] };
      return {
        past: together && past.length > 0 ? past : [...past, now].slice(-MOST_STEPS),
        now: changed,
        future: [],
      };
    });
  }, []);
  const undo = useCallback(() => {
    last.current = 0;
    setHistory((h) =>
      h.past.length === 0
        ? h
        : { past: h.past.slice(0, -1), now: h.past.at(-1)!, future: [h.now, ...h.future] },
    );
  }, []);
  const redo = useCallback(() => {
    last.current = 0;
    setHistory((h) =>
      h.future.length === 0 ? h : { past: [...h.past, h.now], now: h.future[0]!, future: h.future.slice(1) },
    );
  }, []);
  return {
    document: history.now,
    change,
    undo,
    redo,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
  };
}

export type Saving = 'saved' | 'saving' | 'refused';

/** Keeps the document as one goes; says when somebody else saved meanwhile, or what cannot be saved so. */
export function useSaving(
  id: string,
  document: SequenceDocument,
  first: { stamp: number; warnings: Warning[] },
  save: SequenceActs['save'],
) {
  const [stamp, setStamp] = useState(first.stamp);
  const [warnings, setWarnings] = useState(first.warnings);
  const [saving, setSaving] = useState<Saving>('saved');
  const [problem, setProblem] = useState<string | null>(null);
  const kept = useRef(JSON.stringify(document));
  /** The same, for what is drawn. */
  const [keptJson, setKeptJson] = useState(() => JSON.stringify(document));
  const known = useRef(first.stamp);
  const busy = useRef(false);
  useEffect(() => {
    const json = JSON.stringify(document);
    if (json === kept.current) return;
    const timer = setTimeout(() => void keep(json), SAVE_MS);
    return () => clearTimeout(timer);
    async function keep(text: string): Promise<void> {
      if (busy.current) {
        setTimeout(() => void keep(text), SAVE_MS);
        return;
      }
      busy.current = true;
      setSaving('saving');
      try {
        const outcome = await save(id, text, known.current);
        if (outcome.stamp === null) {
          setSaving('refused');
          setProblem(outcome.problems.map(({ message }) => sentenceOf(message)).join(' '));
        } else {
          kept.current = text;
          setKeptJson(text);
          known.current = outcome.stamp;
          setStamp(outcome.stamp);
          setWarnings(outcome.warnings);
          setSaving('saved');
          setProblem(null);
        }
      } catch {
        setSaving('refused');
        setProblem(
          'It could not be saved: the server did not answer. It is tried again with the next change.',
        );
      }
      busy.current = false;
    }
  }, [id, document, save]);
  const settled = saving === 'saved' && keptJson === JSON.stringify(document);
  return { stamp, warnings, saving, problem, settled };
}
