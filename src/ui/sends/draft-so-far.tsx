import type { ClearanceReport } from '@/core/clearance/report';
import { count } from '@/ui/kit/numbers';
import { Progress } from '@/ui/kit/progress';
import type { DraftReport } from './draft-report';

/** What is known of a draft while its audience is still gone through. */
export interface DraftStep {
  people: number;
  /** Of those who were looked at. */
  report: ClearanceReport;
  sample: DraftReport['sample'];
}

/** How far a large audience is gone through, and what that says already. `again`: the figures of before stand below. */
export function DraftSoFar({ step: { people, report }, again }: { step: DraftStep; again: boolean }) {
  return (
    <section className="mb-6">
      <h2 className="mb-1">Clearing</h2>
      <Progress value={report.people} of={people} label="people looked at" />
      <p>
        Of those {count(report.cleared)} cleared, {count(report.held)} held until later,{' '}
        {count(report.blocked)} blocked.
      </p>
      {again && <p className="text-soft">The figures below are from before your last change.</p>}
    </section>
  );
}
