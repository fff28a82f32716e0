import { DAY, type Millis } from '../shared/instant';
import shipped from './mail-rules.json';

/** What the law of a country asks of commercial e-mail. Rules are data with a source and a date, as for hours. */
export interface MailRule {
  source: string;
  /** `opt-out`: until they object; `consent`: only to who agreed. */
  basis: 'opt-out' | 'consent';
  /** For how many months an inquiry counts as agreement; absent: it is none. */
  inquiryMonths?: number;
  /** Whether the sender's postal address must stand in it. */
  postalAddress: boolean;
}

export interface MailRuleSet {
  name: string;
  date: string;
  countries: Record<string, MailRule>;
  elsewhere: MailRule;
}

export const MAIL_RULES = shipped as MailRuleSet;

export const mailRuleFor = (country: string): MailRule =>
  MAIL_RULES.countries[country] ?? MAIL_RULES.elsewhere;

/** Whether an inquiry still counts as agreement; months as of thirty days. */
export const inquiryCounts = (country: string, since: Millis, at: Millis): boolean => {
  const { inquiryMonths } = mailRuleFor(country);
  return inquiryMonths !== undefined && at - since < inquiryMonths * 30 * DAY;
};
