import { inkOn } from './colours.js';
import { escaped } from './escaped.js';
import type { PageLanguage } from './words.js';

/** What every page for people who never sign in is drawn with. */
export interface PageFrame {
  language: PageLanguage;
  /** In the browser's tab. */
  title: string;
  /** Colours, `#rrggbb`. */
  ground: string;
  accent: string;
  /** In the page of another site: no edge of its own. */
  framed?: boolean;
  /** What the server says its styles and scripts are known by; without one the document speaks for itself, and for nothing else. */
  nonce?: string;
  /** Address of the page's script; none for a document that does nothing. */
  script?: string;
}

/** Written for thumbs: 44 px controls, 16 px text that is not zoomed into, one column down to 320 px. */
function styleOf({ ground, accent, framed }: PageFrame): string {
  const ink = inkOn(ground);
  return `*{box-sizing:border-box}body{margin:0;background:${ground};color:${ink};font:16px/1.45 "Source Sans 3",system-ui,sans-serif}
main{max-width:560px;margin:0 auto;padding:${framed ? '16px' : '24px 20px'};overflow-wrap:anywhere}
h1{font-size:24px;line-height:1.2;margin:4px 0 10px}p{margin:10px 0}a{color:inherit}
.picture{display:block;width:100%;max-height:220px;object-fit:cover;margin:0 0 16px}
.field{display:block;margin:14px 0}.field span{display:block;font-weight:600}.field small{font-weight:400}
.field input{width:100%;min-height:44px;padding:9px;background:#fff;color:#1d2a2f;border:1px solid #6d787d;border-radius:2px;font:inherit}
fieldset{border:0;margin:18px 0;padding:0}legend{font-weight:600;padding:0;margin-bottom:4px}
.choice{display:flex;gap:12px;align-items:flex-start;padding:10px 0;min-height:44px}
.choice input{flex:none;width:22px;height:22px;margin:0;accent-color:${accent}}
button,.button{display:block;width:100%;min-height:44px;padding:10px;border:1px solid ${accent};border-radius:2px;background:${accent};color:${inkOn(accent)};font:inherit;text-align:center;cursor:pointer}
button.plain{background:transparent;border-color:transparent;color:${ink};text-decoration:underline;margin-top:8px}
button:disabled{cursor:default}:focus-visible{outline:3px solid ${ink};outline-offset:2px}
.fault{background:#fff;color:#8c1d18;padding:2px 6px;display:block;font-weight:400}.faults{background:#fff;color:#8c1d18;border:1px solid #8c1d18;border-radius:2px;padding:8px 12px;margin:14px 0}.faults a{color:inherit}
.code{font:600 28px/1.3 ui-monospace,monospace;border:1px dashed ${ink};border-radius:2px;padding:8px;text-align:center}
.pages a{display:inline-block;padding:10px 14px 10px 0}.as{margin-top:28px;border-top:1px solid ${ink};padding-top:10px;font-size:14px}`;
}

/** A whole document: what stands in it, in the frame that all such pages share. @param body HTML. */
export function pageDocument(frame: PageFrame, body: string): string {
  const { language, title, nonce, script } = frame;
  const known = nonce ? ` nonce="${escaped(nonce)}"` : '';
  const alone = nonce
    ? ''
    : `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src data:; style-src 'unsafe-inline'">\n`;
  return `<!doctype html>
<html lang="${language}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<link rel="icon" href="data:,">
${alone}<title>${escaped(title)}</title><style${known}>${styleOf(frame)}</style>${script ? `<script${known} src="${escaped(script)}" defer></script>` : ''}</head>
<body><main>${body}</main></body></html>
`;
}

/** Sentences as paragraphs, one a line. */
export const paragraphs = (text: string): string =>
  text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => `<p>${escaped(line)}</p>`)
    .join('\n');

/** Words to the letter, with the addresses in them as links. */
export function withLinks(text: string): string {
  return text
    .split(/(https?:\/\/\S+)/)
    .map((part) =>
      /^https?:/.test(part)
        ? `<a href="${escaped(part)}" target="_blank" rel="noopener">${escaped(part)}</a>`
        : escaped(part),
    )
    .join('');
}
