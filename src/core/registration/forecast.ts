import type { Millis } from '../shared/instant';
import { survival } from '../results/survival';

/** A review so far: how long it took, or has taken. */
export interface Review {
  took: Millis;
  /** It was decided then; otherwise it still goes on. */
  decided: boolean;
}

export interface Forecast {
  /** Half of the reviews that take as long as this one took already are decided by then; null: nobody can say. */
  likely: Millis | null;
  /** Nine of ten are. */
  latest: Millis | null;
  /** Decided reviews it is made from; 0: what the registrar says is usual. */
  from: number;
}

/** So many decided reviews tell more than what a registrar says of itself. */
const ENOUGH = 3;
const ROUNDING = 1e-9;

/**
 * Until when a review is likely to be decided, by what such reviews took: Kaplan and Meier's curve over those that are decided
 * and those that go on, given how long this one has gone on. What has taken longer than every other has no forecast.
 * @param handedIn when it was handed in
 */
export function forecastOf(
  reviews: readonly Review[],
  usual: Millis | null,
  handedIn: Millis,
  now: Millis,
): Forecast {
  const decided = reviews.filter((one) => one.decided).length;
  const waited = now - handedIn;
  if (decided < ENOUGH) {
    const likely = usual === null || usual <= waited ? null : handedIn + usual;
    return { likely, latest: null, from: 0 };
  }
  const open = survival(
    reviews.map((one) => ({ days: one.took, went: one.decided ? 1 : 0, still: one.decided ? 0 : 1 })),
  );
  const stillOpen = open.findLast(({ day }) => day <= waited)!.share;
  const until = (share: number): Millis | null => {
    if (stillOpen <= 0) return null;
    const step = open.find(({ day, share: left }) => day > waited && left / stillOpen <= share + ROUNDING);
    return step ? handedIn + step.day : null;
  };
  return { likely: until(0.5), latest: until(0.1), from: decided };
}
