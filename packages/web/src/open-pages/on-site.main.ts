import { show, type OnSite } from './on-site';

/** Written in by the server, for each page its own. */
declare const ON_SITE: OnSite;

// Read before anything else runs: a script knows where it stands only while it is run.
const script = document.currentScript as HTMLScriptElement | null;
if (document.body) show(ON_SITE, script);
else addEventListener('DOMContentLoaded', () => show(ON_SITE, script));
