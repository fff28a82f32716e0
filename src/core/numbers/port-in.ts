/** What a provider needs to bring a number along from another: who holds it there, as their bill says. */
export interface PortFacts {
  /** The name the number is held by. */
  holder: string;
  /** The account at the provider it is with now, and its transfer PIN where there is one. */
  account: string;
  pin: string | null;
  postalCode: string;
}

/** How a number that is brought along stands, as its new provider says. */
export interface PortStanding {
  state: 'checking' | 'planned' | 'done' | 'refused';
  /** The day it changes over, once that is agreed. */
  day: string | null;
  /** Why not. */
  reason: string | null;
}
