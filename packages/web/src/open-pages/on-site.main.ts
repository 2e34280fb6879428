import { show, type OnSite } from './on-site';

/** Written in by the server, for each page its own. */
declare const ON_SITE: OnSite;

// Read before anything else runs: a script knows which it is only while it is run.
const script = document.currentScript as HTMLScriptElement | null;
const begin = (): void => show({ ...ON_SITE, origin: new URL(script?.src ?? location.href).origin }, script);
if (document.body) begin();
else addEventListener('DOMContentLoaded', begin);
