// What calls of web addresses need.

/** A secret that nobody has yet: 32 random bytes, in hexadecimal digits. */
export function freshSecret(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(32))
  return [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}
