import { CAMPAIGN, NAMES } from '../testing/registration.js';
import { mendOf } from './mend.js';
import type { CampaignDraft } from './campaign-draft.js';
import { reviewCampaign } from './review-campaign.js';

describe('a mend by one click', () => {
  it('adds what is missing and takes nothing else away', () => {
    const once = (over: Partial<CampaignDraft>, code: string): Partial<CampaignDraft> | null => {
      const c = { ...CAMPAIGN, ...over };
      const f = reviewCampaign(c, NAMES).find((x) => x.code === code);
      return f ? mendOf(f, c, NAMES) : null;
    };
    const other = CAMPAIGN.samples[1] ?? '';
    expect(
      once({ samples: ['Cabins are back: saltmarsh.example/f4 Reply STOP to end.', other] }, 'sample-no-name'),
    ).toEqual({
      samples: ['Saltmarsh Ferries: Cabins are back: saltmarsh.example/f4 Reply STOP to end.', other],
    });
    expect(once({ samples: [other, 'Saltmarsh Ferries: come on board today'] }, 'sample-no-stop')).toEqual({
      samples: [other, 'Saltmarsh Ferries: come on board today. Reply STOP to end.'],
    });
    expect(once({ optInMessage: 'Welcome to the list of offers' }, 'optin-message-incomplete')).toEqual({
      optInMessage:
        'Saltmarsh Ferries: Welcome to the list of offers. Message frequency varies. Msg & data rates may apply. Reply HELP for help. Reply STOP to end.',
    });
    const agreement = 'On our page people tick a box for texts. By booking they agree to texts. Nothing is ticked.';
    expect(once({ agreement }, 'agreement-condition')).toEqual({
      agreement: 'On our page people tick a box for texts. Nothing is ticked.',
    });
    expect(once({ hasLinks: false }, 'link-undeclared')).toEqual({ hasLinks: true });
    expect(once({ description: 'Fare offers.' }, 'description-short'))
      .withContext('its writer’s to mend')
      .toBeNull();
  });
});
