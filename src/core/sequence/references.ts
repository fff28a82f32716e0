import type { SequenceDocument } from './document';

const NAMED: ReadonlySet<string> = new Set(['label', 'stage', 'account', 'sequence', 'program', 'source']);

/** The document with other ids for what it refers to: labels, stages, teammates, programs, sequences, and in conditions. */
export function withReferences(document: SequenceDocument, idOf: (id: string) => string): SequenceDocument {
  const map = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(map);
    if (typeof value !== 'object' || value === null) return value;
    const asks = 'ask' in value;
    return Object.fromEntries(
      Object.entries(value).map(([key, inner]) => {
        const refers = NAMED.has(key) || (asks && (key === 'id' || key === 'program'));
        // A line of another sequence: `<sequence>.<line>`.
        if (key === 'step' && typeof inner === 'string') {
          const at = inner.lastIndexOf('.');
          return [key, `${idOf(inner.slice(0, at))}${inner.slice(at)}`];
        }
        return [key, refers && typeof inner === 'string' ? idOf(inner) : map(inner)];
      }),
    );
  };
  return map(document) as SequenceDocument;
}
