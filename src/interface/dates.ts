const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const time = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** A moment as a list shows it. @param moment ISO 8601. */
export function momentText(moment: string): string {
  const date = new Date(moment);
  return `${day.format(date)}, ${time.format(date)}`;
}

/** The same in a sentence: today the time alone, else the day. */
export function whenText(moment: string): string {
  const date = new Date(moment);
  const today = date.toDateString() === new Date().toDateString();
  return today ? `today at ${time.format(date)}` : `on ${day.format(date)}`;
}
