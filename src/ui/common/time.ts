/** `25 Nov 2026, 04:10` in the reader's own time zone; the same text on server and client is not promised. */
export function timeText(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' })
}
