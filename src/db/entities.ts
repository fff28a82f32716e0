import { AuditEntry, Happening, HappeningCursor, HappeningWanted, Press, Trouble } from './kit/entities';
import { Batch, BatchPerson } from './batches/entities';
import { BroadcastPerson, Broadcast } from './sends/entities';
import { ConsentEvent, ConsentState } from './consent/entities';
import {
  CreditEntry,
  Departure,
  Installation,
  LastText,
  Message,
  MessageEvent,
  OrphanReceipt,
  Send,
  SenderAssignment,
  TextPart,
  Worker,
} from './delivery/entities';
import {
  DateLook,
  DuplicatePair,
  DuplicateSearch,
  Merge,
  PersonLabel,
  Preference,
  Suppression,
  Person,
  Label,
  Stage,
} from './people/entities';
import { Engagement, SegmentShare, Field, Segment } from './audience/entities';
import { Import, ImportChunk, ImportRow } from './imports/entities';
import { InboundPart, InboundText, Notice, UnreadText } from './inbox/entities';
import { SignInTry, Workspace, Account, Membership, Session, ApiKey } from './access/entities';
import { WebhookDelivery, WebhookEndpoint, WebhookTry } from './webhooks/entities';
import { SenderNumberRow } from './numbers/entities';
import { Program, ProgramSender, KeywordRow } from './programs/entities';

/** Every table, room by room. Rows that move in sets are written in SQL beside them; a test holds the two to each other. */
export const ENTITIES = [
  AuditEntry,
  Happening,
  HappeningCursor,
  HappeningWanted,
  Press,
  Trouble,
  Batch,
  BatchPerson,
  BroadcastPerson,
  ConsentEvent,
  ConsentState,
  CreditEntry,
  Departure,
  Installation,
  LastText,
  Message,
  MessageEvent,
  OrphanReceipt,
  Send,
  SenderAssignment,
  TextPart,
  Worker,
  DateLook,
  DuplicatePair,
  DuplicateSearch,
  Merge,
  PersonLabel,
  Preference,
  Suppression,
  Engagement,
  SegmentShare,
  Import,
  ImportChunk,
  ImportRow,
  InboundPart,
  InboundText,
  Notice,
  UnreadText,
  SignInTry,
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
