/** The sign of the program. */
export function Mark({ size = 32 }: { size?: number }) {
  return <img src="/icon.svg" alt="" width={size} height={size} />;
}
