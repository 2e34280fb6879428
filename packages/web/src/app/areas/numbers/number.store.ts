import { computed, resource } from '@angular/core';
import {
  editNumber,
  getDossier,
  numberCard,
  cardPicture,
  setCardPicture,
  releaseNumber,
  setDefaultNumber,
  takeBackNumber,
  tieNumber,
  whatReleaseLoses,
  type NumberView,
} from '@long-gate/contracts';
import { formatPhone, type Purpose } from '@long-gate/core';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';

/** What can be done with one number. */
export const NumberStore = signalStore(
  withBusiness(),
  withSubject<NumberView>(),
  withProps(({ _api, _about, session }) => ({
    _dossier: resource({
      params: () => (_about()?.nextStep.action === 'tie' ? session.businessId() : undefined),
      loader: ({ params }) => _api.call(getDossier, { params: { businessId: params } }),
    }),
  })),
  withComputed(({ _dossier }) => ({
    /** Campaigns it could be tied to. */
    candidates: computed(() =>
      (_dossier.hasValue() ? _dossier.value().campaigns : []).filter((c) => c.state === 'registered'),
    ),
  })),
  withMethods(({ _api, _at, _about, acting }) => {
    const of = () => ({ ..._at(), id: _about()?.id ?? '' });
    return {
      tie: (campaignId: string | null, done: string) =>
        acting.did(() => _api.call(tieNumber, { params: of(), body: { campaignId } }), done),
      save: (body: { label: string; description: string; cardName?: string }) =>
        _api.call(editNumber, { params: of(), version: _about()?.version ?? 0, body }),
      setDefault: (purpose: Purpose, on: boolean) =>
        acting.did(
          () =>
            _api.call(setDefaultNumber, {
              params: { ..._at(), purpose },
              body: { numberId: on ? (_about()?.id ?? null) : null },
            }),
          on ? `The default for ${purpose} texts.` : 'No default any more.',
        ),
      /** What would be lost by its release; undefined where that cannot be said now. */
      losses: () => acting.run(() => _api.call(whatReleaseLoses, { params: of() })),
      release: (digits: string) =>
        acting.did(
          () => _api.call(releaseNumber, { params: of(), body: { digits } }),
          `${formatPhone(_about()?.e164 ?? '')} is released.`,
        ),
      takeBack: () => acting.did(() => _api.call(takeBackNumber, { params: of() }), 'The number is back.'),
      /** Puts a picture on its card; null takes it off. */
      setPicture: (file: { name: string; base64: string } | null) =>
        acting.did(
          () => _api.call(setCardPicture, { params: of(), body: { file } }),
          file ? 'The picture is on the card.' : 'The card has its letters again.',
        ),
      /** Where the picture on its card is; another address for each version, so that it is looked at anew. */
      picture: () => `${_api.address(cardPicture, { params: { id: _about()?.id ?? '' } })}?v=${_about()?.version ?? 0}`,
      /** Where its public card is. */
      card: () => _api.address(numberCard, { params: { id: _about()?.id ?? '' } }),
    };
  }),
);
