/** How a status reads at a glance: a drawn mark and a word; colour only helps. */
export type Tone = 'good' | 'wait' | 'bad' | 'plain';

const SHAPES: Record<Tone, React.ReactNode> = {
  good: <path d="M2 6.5 5 9.5 10 2.5" fill="none" strokeWidth="1.8" />,
  wait: (
    <path d="M6 3v3.2l2 1.3M1.2 6a4.8 4.8 0 1 0 9.6 0a4.8 4.8 0 1 0-9.6 0" fill="none" strokeWidth="1.3" />
  ),
  bad: <path d="M2.5 2.5l7 7m0-7l-7 7" fill="none" strokeWidth="1.8" />,
  plain: <path d="M2 6h8" fill="none" strokeWidth="1.8" />,
};

const COLOURS: Record<Tone, string> = {
  good: 'text-good',
  wait: 'text-wait',
  bad: 'text-bad',
  plain: 'text-soft',
};

export function Mark({ tone, children }: { tone: Tone; children: React.ReactNode }) {
  return (
    <span className={`inline-flex items-baseline gap-1.5 ${COLOURS[tone]}`}>
      <svg
        width="11"
        height="11"
        viewBox="0 0 12 12"
        stroke="currentColor"
        aria-hidden="true"
        className="shrink-0 translate-y-px"
      >
        {SHAPES[tone]}
      </svg>
      <span>{children}</span>
    </span>
  );
}
