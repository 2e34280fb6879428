/** What the account holder authorises for a port, in whole sentences. */
export function portParagraphs(t: { business: string; carrier: string; holderName: string }): string[] {
  return [
    `I am the account holder, or may decide for the account holder, of the telephone numbers named here, which are with ${t.carrier || 'the present carrier'} under the name ${t.holderName || '…'}.`,
    `I authorise ${t.business} and the provider it uses to have these numbers ported away from that carrier, and to ask it for the records of the account that are needed for this (customer service record).`,
    'The present service stays on and paid until the port has completed. What the present carrier charges for leaving is settled with it by the account holder.',
    'This letter is good for 30 days from the day of the signature and covers no other number than those named.',
  ];
}
