import type { QueryInterface } from 'sequelize';
import { abroad } from './abroad.js';
import { consent } from './consent.js';
import { contacts } from './contacts.js';
import { dispatch } from './dispatch.js';
import { guards } from './guards.js';
import { history } from './history.js';
import { hosted } from './hosted.js';
import { inbox } from './inbox.js';
import { letters } from './letters.js';
import { numbers } from './numbers.js';
import { people } from './people.js';
import { platform } from './platform.js';
import { porting } from './porting.js';
import { registration } from './registration.js';
import { counts } from './counts.js';
import { search } from './search.js';
import { settings } from './settings.js';
import { statistics } from './statistics.js';
import { watch } from './watch.js';

/** Every table, area by area; an area comes after those its rows refer to. */
export async function first(qi: QueryInterface): Promise<void> {
  for (const area of [
    platform,
    settings,
    people,
    numbers,
    letters,
    porting,
    hosted,
    abroad,
    registration,
    contacts,
    consent,
    dispatch,
    inbox,
    watch,
    guards,
    counts,
    history,
    search,
    statistics,
  ])
    await area(qi);
}
