/** `+1 201-555-0142`: the way numbers are shown everywhere. Others are grouped only by their country code. */
export function formatPhone(e164: string): string {
  const m = /^\+1(\d{3})(\d{3})(\d{4})$/.exec(e164);
  return m ? `+1 ${m[1] ?? ''}-${m[2] ?? ''}-${m[3] ?? ''}` : e164;
}
