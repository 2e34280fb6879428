import { inject, provideAppInitializer, provideZonelessChangeDetection, type ApplicationConfig } from '@angular/core';
import { MAT_RIPPLE_GLOBAL_OPTIONS, MATERIAL_ANIMATIONS } from '@angular/material/core';
import { MAT_FORM_FIELD_DEFAULT_OPTIONS, type MatFormFieldDefaultOptions } from '@angular/material/form-field';
import { provideRouter, TitleStrategy, withComponentInputBinding } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { provideStoreDevtools } from '@ngrx/store-devtools';
import { routes } from './app.routes';
import { TabTitle } from './frame/tab-title';
import { SessionFacade } from './state/session.facade';
import { courseFeature } from './state/course.feature';
import { jobsFeature } from './state/jobs.feature';
import { liveFeature } from './state/live.feature';
import { sessionFeature } from './state/session.feature';
import * as courseEffects from './state/course.effects';
import * as jobsEffects from './state/jobs.effects';
import * as liveEffects from './state/live.effects';

declare const ngDevMode: boolean;

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    { provide: TitleStrategy, useClass: TabTitle },
    provideStore({
      [sessionFeature.name]: sessionFeature.reducer,
      [courseFeature.name]: courseFeature.reducer,
      [jobsFeature.name]: jobsFeature.reducer,
      [liveFeature.name]: liveFeature.reducer,
    }),
    provideEffects(courseEffects, jobsEffects, liveEffects),
    // While it is developed: what is built to run has no word of it.
    ...(ngDevMode ? [provideStoreDevtools({ maxAge: 50, connectInZone: false })] : []),
    provideAppInitializer(() => inject(SessionFacade).load()),
    { provide: MATERIAL_ANIMATIONS, useValue: { animationsDisabled: true } },
    // The label stands above the box, and what is wrong with it beside it: neither needs room inside.
    {
      provide: MAT_FORM_FIELD_DEFAULT_OPTIONS,
      useValue: { appearance: 'outline', subscriptSizing: 'dynamic' } satisfies MatFormFieldDefaultOptions,
    },
    { provide: MAT_RIPPLE_GLOBAL_OPTIONS, useValue: { disabled: true } },
  ],
};
