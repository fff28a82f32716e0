/** Credits as a provider sells them. */
export interface CreditPack {
  id: string;
  credits: number;
  /** In hundredths of the currency. */
  price: number;
  /** ISO 4217. */
  currency: string;
}

/** How a payment stands, as the provider says. */
export interface PaymentStanding {
  state: 'waiting' | 'paid' | 'refused';
  reason: string | null;
}
