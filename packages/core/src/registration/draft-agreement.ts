/** What is known of a page on which people agree. */
export interface AgreeingPage {
  /** Where it is, as people would type it. */
  address: string;
  title: string;
  purposes: readonly { label: string; frequency: string }[];
}

/** As many signs as the registrar takes. */
const MOST = 2_048;

/**
 * How people agree, said from the opt-in pages there are: what is ticked, how often texts come, how it is confirmed.
 * Empty where there is no page. Our pages tick nothing beforehand and ask for a YES (rules.md, consent).
 */
export function draftAgreement(pages: readonly AgreeingPage[]): string {
  const said: string[] = [];
  for (const page of pages) {
    const boxes = page.purposes.map((p) => `“${p.label}” (${p.frequency})`).join(' and ');
    const next = `On the page ${page.address}, “${page.title}”, people enter their mobile number and tick ${page.purposes.length > 1 ? 'the boxes they want, each by itself' : 'a box of its own'}: ${boxes}.`;
    // Whole sentences or none.
    if ([...said, next, ENDING].join(' ').length > MOST) break;
    said.push(next);
  }
  return said.length === 0 ? '' : [...said, ENDING].join(' ');
}
const ENDING =
  'Nothing is ticked beforehand, and nobody needs to agree in order to buy anything. They confirm by answering YES to a text, and can stop at any time by STOP.';
