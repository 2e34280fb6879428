import type { Programme } from '../consent/disclosure.js';

/** An opt-in page as somebody saw it. */
export interface PageSeen {
  slug: string;
  /** The legal name of the business. */
  business: string;
  title: string;
  intro: string;
  purposes: readonly { purpose: Programme['purpose']; disclosure: string }[];
  privacyUrl: string;
  termsUrl: string;
}

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
/** A text as it stands in HTML. */
export const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => ENTITIES[c] ?? c);

const STYLE = `body{margin:0;background:#f6f4ee;color:#1d2a2f;font:16px/1.45 "Source Sans 3",system-ui,sans-serif}
main{max-width:440px;margin:0 auto;padding:24px 20px;background:#fff;min-height:100vh;box-sizing:border-box}
h1{font-size:24px;margin:4px 0 10px}.business,.as{color:#56646a}label{display:block;margin:14px 0;line-height:1.4}
.field span{display:block;font-weight:600}.field input{width:100%;box-sizing:border-box;padding:9px;border:1px solid #d9d5c9;border-radius:2px;font:inherit}
button{width:100%;padding:12px;border:0;border-radius:2px;background:#0f5c63;color:#fff;font:inherit}
.as{margin-top:28px;border-top:1px solid #d9d5c9;padding-top:10px;font-size:13px}`;

/**
 * An opt-in page as a document that needs nothing else to be opened again, and does nothing: its words to the letter, each
 * kind of text with its own box, unticked as it was shown. Of the same page the same bytes, so that its digest names it.
 */
export function pageAsItWas(p: PageSeen): string {
  const boxes = p.purposes.map((x) => `<label><input type="checkbox" disabled> ${escaped(x.disclosure)}</label>`);
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<title>${escaped(p.title)} · ${escaped(p.business)}</title><style>${STYLE}</style></head>
<body><main><p class="business">${escaped(p.business)}</p><h1>${escaped(p.title)}</h1>
<p>${escaped(p.intro)}</p>
<label class="field"><span>Your mobile number</span><input disabled></label>
<label class="field"><span>First name</span><input disabled></label>
${boxes.join('\n')}
<button disabled>Send me the confirming text</button>
<p><a href="${escaped(p.privacyUrl)}">Privacy</a> <a href="${escaped(p.termsUrl)}">Terms</a></p>
<p class="as">Kept as it was shown at /join/${escaped(p.slug)}. Nothing can be sent from here.</p>
</main></body></html>
`;
}
