import type { SenderKind } from '../clearance/sender';

/** What something costs that leaves from such a number over such a carrier to such a country; null: any. */
export interface PriceRule {
  /** A text, by its parts; or a picture message, as one. */
  what: 'text' | 'picture';
  /** Of the number it leaves from. */
  kind: SenderKind | null;
  /** Of the number it goes to, ISO 3166-1. */
  country: string | null;
  /** The carrier the number belongs to, by id. */
  carrier: string | null;
  /** Whole credits: for each part of a text, for a picture message as it is. */
  credits: number;
}

export interface Leaves {
  what: PriceRule['what'];
  country: string | null;
  /** Null: not known yet. */
  kind: SenderKind | null;
  carrier: string | null;
}

/** What messages cost: by the narrowest rule that fits, else what is usual. */
export class Prices {
  readonly #rules: readonly PriceRule[];

  constructor(
    rules: readonly PriceRule[],
    private readonly usual: Record<PriceRule['what'], number>,
  ) {
    this.#rules = [...rules].sort((a, b) => narrowness(b) - narrowness(a));
  }

  /** Everything costs what is usual: where it goes need not be asked. */
  get plain(): boolean {
    return this.#rules.length === 0;
  }

  /** Credits for one part of a text, or for a picture message. */
  of(leaves: Leaves): number {
    return this.#rules.find((rule) => fits(rule, leaves))?.credits ?? this.usual[leaves.what];
  }
}

const fits = (rule: PriceRule, leaves: Leaves): boolean =>
  rule.what === leaves.what &&
  (rule.country === null || rule.country === leaves.country) &&
  (rule.carrier === null || rule.carrier === leaves.carrier) &&
  (rule.kind === null || rule.kind === leaves.kind);

/** The rule that names most counts; of two that name as many, the country before the carrier before the kind. */
function narrowness({ country, carrier, kind }: PriceRule): number {
  const named = [country, carrier, kind].map((one) => Number(one !== null));
  return named.reduce((sum, one) => sum + one, 0) * 8 + named[0]! * 4 + named[1]! * 2 + named[2]!;
}

/** Two rules that name the same: the place of the second; -1: there are none. */
export const doubledRule = (rules: readonly PriceRule[]): number =>
  rules.findIndex((rule, i) => rules.slice(0, i).some((other) => nameOf(other) === nameOf(rule)));

const nameOf = ({ what, kind, country, carrier }: PriceRule): string =>
  JSON.stringify([what, kind, country, carrier]);
