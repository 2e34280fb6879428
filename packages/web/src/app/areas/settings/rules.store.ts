import { computed, inject, resource } from '@angular/core';
import { getRules } from '@long-gate/contracts';
import { signalStore, withComputed, withProps } from '@ngrx/signals';
import { Api } from '../../api/api';

/** The rules this version ships with. */
export const RulesStore = signalStore(
  withProps(() => {
    const api = inject(Api);
    return { _rules: resource({ loader: () => api.call(getRules) }) };
  }),
  withComputed(({ _rules }) => ({
    notice: computed(() => (_rules.hasValue() ? _rules.value().notice : '')),
    hours: computed(() => (_rules.hasValue() ? _rules.value().hours : [])),
    problem: computed(() => _rules.error() ?? null),
  })),
);
