import type { CampaignDraft } from './campaign-draft.js';

/**
 * What a new campaign answers to joining, STOP and HELP, said as reviewers want it (rules.md, what reviewers decline).
 * @param contact an address, page or number by which people reach the business; empty where none is known, and then
 * the answer to HELP is left to its writer.
 */
export function defaultReplies(
  nameLine: string,
  contact: string,
): Pick<CampaignDraft, 'optInMessage' | 'optOutMessage' | 'helpMessage'> {
  return {
    optInMessage: `${nameLine}: you are in. Message frequency varies. Msg & data rates may apply. Reply HELP for help, STOP to end.`,
    optOutMessage: `${nameLine}: you are out and will get no more texts from us.`,
    helpMessage: contact === '' ? '' : `${nameLine}: for help write to ${contact}. Reply STOP to end.`,
  };
}
