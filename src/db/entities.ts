import { WebhookDelivery, WebhookEndpoint, WebhookTry } from './webhooks/entities';
import { Workspace, Account, Membership, Session, ApiKey } from './access/entities';
import { Person, Label, Stage } from './people/entities';
import { Field, Segment } from './audience/entities';
import { SenderNumberRow } from './numbers/entities';
import { Program, ProgramSender, KeywordRow } from './programs/entities';
import { Broadcast } from './sends/entities';

/** Tables that hot paths write in batches (texts, parts, ledgers) are written in SQL: see `queries/`. */
export const ENTITIES = [
  Workspace,
  Account,
  Membership,
  Session,
  ApiKey,
  Person,
  SenderNumberRow,
  Program,
  ProgramSender,
  KeywordRow,
  Broadcast,
  Field,
  Label,
  Stage,
  Segment,
  WebhookEndpoint,
  WebhookDelivery,
  WebhookTry,
];
