import type { Tree } from '../tree';

/** What invented portals and a website send: other names for the same things, in other places. */
export const PORTAL: Tree = {
  event: 'lead.created',
  id: 'ld_88213',
  created: '2026-11-24T08:02:11Z',
  listing: { id: 'jg-12', name: 'Juniper Gap Observatory', url: 'https://stars-and-tours.example.org/jg' },
  contact: {
    fullName: 'Odalys Brightwater',
    phoneNumber: '(303) 555-0141',
    emailAddress: 'odalys@example.org',
  },
  request: {
    visitType: 'Class trip',
    comments: 'We are 24 children and three teachers. Is the dome free in March?',
    postalCode: '80202',
  },
  consentToText: false,
};

export const WEBSITE: Tree = {
  fields: [
    { name: 'your-name', value: 'Bo Marlowe' },
    { name: 'tel', value: '+1 720 555 0107' },
    { name: 'email', value: 'bo@example.org' },
    { name: 'Reason', value: 'Private evening' },
    { name: 'message', value: 'A birthday for twelve.' },
    { name: 'sms_opt_in', value: 'on' },
  ],
  submission_id: 'f-19',
};

/** A letter with a table of labels, as a portal writes them. */
export const LETTER = {
  from: 'inquiries@night-sky-guide.example.org',
  fromName: 'Night Sky Guide',
  subject: 'New inquiry for Juniper Gap Observatory',
  text: '',
  rows: [
    ['Name', 'Ravi Thistledown'],
    ['Telephone', '480-555-0133'],
    ['E-mail', 'ravi@example.org'],
    ['Interested in', 'School visit'],
    ['Message', 'Do you have an hour on a Tuesday?'],
  ],
} as const;
