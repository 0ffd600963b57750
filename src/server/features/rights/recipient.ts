/** For whom things are taken out: a name that this browser sends along until it is changed. */
export const RECIPIENT_COOKIE = 'spindle-recipient';

/** Empty where it is nobody but who is at work. */
export function recipientIn(cookies: string | null): string {
  const part = cookies?.split(/;\s*/).find((each) => each.startsWith(`${RECIPIENT_COOKIE}=`));
  try {
    return decodeURIComponent(part?.slice(RECIPIENT_COOKIE.length + 1) ?? '').slice(0, 200);
  } catch {
    return '';
  }
}
