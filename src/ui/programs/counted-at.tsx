import type { Millis } from '@/core/shared/instant';
import { dayAndTime } from '@/ui/kit/time';

/** When figures that are kept were counted; nothing where they are counted at each look. */
export const CountedAt = ({ at, zone }: { at: Millis | null; zone: string }) =>
  at === null ? null : (
    <p className="mt-2 text-sm text-soft">
      Counted {dayAndTime(at, zone)}. Who joined or left since is counted within minutes.
    </p>
  );
