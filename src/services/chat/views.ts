import type { ChatAccount, ChatTemplate, ChatWording } from '@/db/chat/entities';
import { iso } from '@/services/kit/views';

/** Without what the network knows us by. */
export const accountView = (account: ChatAccount) => ({
  ...{
    id: account.id,
    name: account.name,
    url: account.url,
    account: account.account,
    address: account.address,
  },
  ...{
    state: account.state,
    missing: account.missing,
    quality: account.quality,
    begin_limit: account.beginLimit,
  },
  ...{ limits: account.limits, prices: account.prices, trouble: account.trouble },
  ...{ checked_at: iso(account.checkedAt), created_at: iso(account.createdAt) },
});

export const wordingView = (wording: ChatWording) => ({
  ...{
    id: wording.id,
    template_id: wording.templateId,
    language: wording.language,
    version: wording.version,
  },
  ...{
    ...wording.words,
    samples: wording.samples,
    state: wording.state,
    reason: wording.reason,
    stamp: wording.stamp,
  },
  ...{ handed_in_at: iso(wording.handedInAt), decided_at: iso(wording.decidedAt) },
});

export const templateView = (template: ChatTemplate, wordings: readonly ChatWording[]) => ({
  ...{ id: template.id, name: template.name, category: template.category, account_id: template.accountId },
  ...{ archived_at: iso(template.archivedAt), wordings: wordings.map(wordingView) },
});
