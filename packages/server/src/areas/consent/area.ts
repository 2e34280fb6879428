import type Router from '@koa/router';
import { Documents } from '../../platform/documents.js';
import type { Platform } from '../../platform/platform.js';
import { erasedNumber, type ContactsArea } from '../contacts/index.js';
import type { DispatchArea } from '../dispatch/index.js';
import type { NumbersArea } from '../numbers/index.js';
import type { SettingsArea } from '../settings/index.js';
import { Answers } from './answers.js';
import { AsOf } from './as-of/as-of.js';
import { asOfRoutes } from './as-of/routes.js';
import { Claims } from './claims/claims.js';
import { recordImported } from './claims/imported.js';
import { claimRoutes } from './claims/routes.js';
import { confirmOptIns } from './confirmations.js';
import { ChainDigests } from './evidence/chain-digests.js';
import { evidenceRoutes } from './evidence/routes.js';
import { EvidencePacks } from './evidence/evidence-packs.js';
import { EvidenceRequests } from './evidence/evidence-requests.js';
import { PackContents } from './evidence/pack-contents.js';
import { Coverage } from './coverage.js';
import { Expiry } from './expiry/expiry.js';
import { expiryRoutes } from './expiry/routes.js';
import { EventBases } from './ledger/event-basis.js';
import { FiledForms } from './filed-forms.js';
import { OptInInvitations } from './invitations/invitations.js';
import { InvitationLinks } from './invitations/invitation-links.js';
import { invitationRoutes } from './invitations/routes.js';
import { Keywords } from './keywords/keywords.js';
import { keywordRoutes } from './keywords/routes.js';
import { Ledger } from './ledger/ledger.js';
import { LedgerPages } from './ledger/ledger-pages.js';
import { CONSENT_COUNTS } from './kept-counts-store.js';
import { tellConsent } from './matters.js';
import { wordsByNow } from './words-by-now.js';
import { nameConsent } from './object-names.js';
import { numberPageRoutes, numberRequestRoutes } from './number-requests/routes.js';
import { NewNumbers } from './number-requests/new-numbers.js';
import { LettersOnTheirWay } from './letters/letters-on-their-way.js';
import { letterRoutes } from './letters/routes.js';
import { NumberRequests } from './number-requests/number-requests.js';
import { openPageRoutes } from './pages/open-routes.js';
import { Pages } from './pages/pages.js';
import { PublicPages } from './pages/public-pages.js';
import { OptOutLists } from './opt-outs/opt-out-lists.js';
import { optOutRoutes } from './opt-outs/routes.js';
import { pageRoutes } from './pages/routes.js';
import { PersonalPages } from './personal-page/personal-pages.js';
import { personalPageRoutes } from './personal-page/routes.js';
import { Reassigned } from './reassigned.js';
import { Replies } from './replies.js';
import { Reviews } from './reviews.js';
import { dropRequests } from './opt-in-request-store.js';
import { inDoubtAmong } from './review-store.js';
import { consentRoutes } from './routes.js';
import { signDaily } from './ledger/sign-daily.js';
import { Relationships } from './relationships/relationships.js';
import { relationshipRoutes } from './relationships/routes.js';
import { sourceRoutes } from './sources/routes.js';
import { Sources } from './sources/sources.js';
import { suppressionRoutes } from './suppression/routes.js';
import { SuppressedPeople } from './suppression/suppressed-people.js';
import { SuppressionLists } from './suppression/suppression-lists.js';
import { textLinkRoutes } from './text-links/routes.js';
import { TextLinks } from './text-links/text-links.js';

/** Who agreed to what, how, and the proof of it. */
export async function consentArea(
  p: Platform,
  router: Router,
  open: Router,
  {
    businesses,
    contacts,
    edits,
    removals,
    lists,
    lookups,
    intakes,
    numbers,
    releases,
    texts,
    textsAt,
    drafts,
    preview,
    behind,
    questions,
    textability,
    payer,
  }: SettingsArea & ContactsArea & NumbersArea & DispatchArea,
) {
  const ledger = new Ledger(p, contacts);
  const ledgerPages = new LedgerPages(p, businesses, contacts);
  const reviews = new Reviews(p, businesses, contacts);
  const documents = new Documents(p.vault, p.clock);
  const answers = new Answers(p, texts);
  const keywords = new Keywords(p, businesses, contacts, numbers, documents, ledger, answers);
  keywordRoutes(router, keywords);
  const replies = new Replies(p, businesses, numbers, texts, ledger, reviews, answers, keywords);
  const publicPages = new PublicPages(p, businesses, contacts, ledger, replies, numbers, documents);
  const pages = new Pages(p, businesses, numbers, documents, publicPages);
  pageRoutes(router, pages, publicPages);
  openPageRoutes(open, p, publicPages);
  const reassigned = new Reassigned(p, businesses, questions, textability, ledger, behind, payer);
  await reassigned.begin();
  const optOutLists = new OptOutLists(p, businesses, documents, ledger);
  optOutRoutes(router, optOutLists);
  const relationships = new Relationships(p, businesses, contacts, ledger);
  relationshipRoutes(router, relationships);
  const suppression = new SuppressionLists(p, businesses, new SuppressedPeople(p, businesses, contacts, relationships));
  suppressionRoutes(router, suppression);
  preview.findsToo((r, businessId, draft) => suppression.findIn(r, businessId, draft));
  contacts.recallConsent(async (w, businessId, e164s) => {
    await ledger.recall(w, businessId, e164s);
    await reassigned.recall(w, businessId, e164s);
    await suppression.recall(w, businessId, e164s);
    await relationships.recall(w, businessId, e164s);
    for (const e164 of await inDoubtAmong(w, businessId, e164s))
      await contacts.setWishInReview(w, businessId, e164, true);
  });
  removals.heldBy(async (w, businessId, e164s) =>
    (await ledger.isDisputed(w, businessId, e164s))
      ? 'A dispute about their consent is open: what is evidence of it is on hold, and nothing is erased until it is settled.'
      : '',
  );
  removals.heldBy((w, businessId, e164s) => reviews.holds(w, businessId, e164s));
  p.db.facts.on('contact.erased', async (w, { businessId, people }) => {
    for (const [e164, digest] of people) await reviews.forget(w, businessId, e164, erasedNumber(digest));
    await dropRequests(
      w,
      businessId,
      people.map(([e164]) => e164),
    );
  });
  const chains = new ChainDigests(p);
  await signDaily(p, businesses, ledger, chains);
  recordImported(p, businesses, intakes, ledger);
  texts.wordsBy(wordsByNow(ledger, () => p.clock.now()));
  confirmOptIns(p, businesses, contacts, lookups, texts, ledger);
  releases.usedBy(async (r, numberId) => ({ pages: await pages.using(r, numberId) }));
  releases.usedBy(async (r, numberId) => ({ keywords: await keywords.using(r, numberId) }));
  releases.usedBy(async (r, numberId) => ({ contacts: await contacts.knowing(r, numberId) }));
  p.keptCounts.add(...CONSENT_COUNTS);
  nameConsent(p);
  const claims = new Claims(p, contacts, intakes);
  claimRoutes(router, claims);
  const forms = new FiledForms(p, businesses, contacts, drafts, behind, documents, ledger, claims);
  const letters = new LettersOnTheirWay(p, contacts);
  const newNumbers = new NewNumbers(p, businesses, contacts, edits, lookups);
  const numberRequests = new NumberRequests(p, contacts, newNumbers, publicPages, ledger, letters);
  numberRequestRoutes(router, numberRequests);
  numberPageRoutes(open, numberRequests);
  const optInInvitations = new OptInInvitations(p, contacts, ledger, publicPages, letters);
  await optInInvitations.begin();
  invitationRoutes(router, optInInvitations);
  const expiry = new Expiry(p, businesses, contacts, ledger, optInInvitations);
  await expiry.begin();
  expiryRoutes(router, expiry);
  const invitationLinks = new InvitationLinks(p, ledger, publicPages, newNumbers);
  letterRoutes(open, '/my-texts', invitationLinks);
  letterRoutes(open, '/better-number', numberRequests);
  const textLinks = new TextLinks(p, ledger);
  textLinkRoutes(router, textLinks);
  texts.ownPagesBy(textLinks);
  for (const [at, links] of [
    ['/my-texts', invitationLinks],
    ['/t', textLinks],
  ] as const)
    personalPageRoutes(open, at, new PersonalPages(p, contacts, ledger, publicPages, replies, newNumbers, links));
  const packs = new EvidencePacks(p, businesses, contacts, new PackContents(p, ledger, documents, numbers, chains));
  await packs.begin();
  const evidence = new EvidenceRequests(p, businesses, contacts, ledger, packs);
  evidenceRoutes(router, p, evidence, packs);
  tellConsent(p, contacts, reviews, pages, evidence, suppression, keywords, expiry);
  const coverage = new Coverage(p, businesses, lists);
  const sources = new Sources(p, contacts, ledger);
  sourceRoutes(router, sources);
  const asOf = new AsOf(p, businesses, contacts, ledger, relationships, textsAt);
  asOfRoutes(router, asOf);
  consentRoutes(router, {
    ledger,
    ledgerPages,
    bases: new EventBases(p, documents, ledgerPages),
    coverage,
    replies,
    reviews,
    forms,
    reassigned,
  });
  return {
    ledger,
    ledgerPages,
    coverage,
    sources,
    asOf,
    reviews,
    replies,
    pages,
    publicPages,
    claims,
    forms,
    numberRequests,
    optInInvitations,
    textLinks,
    expiry,
    reassigned,
    evidence,
    packs,
    suppression,
    relationships,
    optOutLists,
    keywords,
  };
}
export type ConsentArea = Awaited<ReturnType<typeof consentArea>>;
