/** A field once what stood in it is put in: empty, unless more has been typed since. */
export function spent(sent: string) {
  return (now: string) => (now === sent ? "" : now);
}
