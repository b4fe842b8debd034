/** Symbols of codes; the first 32 of the code itself, all 37 of its check symbol. */
const symbols = '0123456789ABCDEFGHJKMNPQRSTVWXYZ*~$=U'
const alike: Record<string, string> = { O: '0', I: '1', L: '1' }

/**
 * The code in what was typed or scanned: an address of any host, or the code alone. What is
 * read as a figure is meant as one.
 */
export function codeIn(text: string): string {
  const address = /\/i\/([^?#\s]+)/.exec(text)
  const raw = address ? decodeURIComponent(address[1]!) : text
  const code = raw.replace(/[\s-]/g, '').toUpperCase()
  return code.length === 7 ? code.replace(/[OIL]/g, (s) => alike[s]!) : code
}

/** Whether it has the shape of a code: six symbols and a check symbol. Names of things may too. */
export const isShaped = (code: string) => /^[0-9A-HJKMNP-TV-Z]{6}[0-9A-HJKMNP-Z*~$=]$/.test(code)

/** Whether it is a code: its check symbol is the remainder by 37. */
export function isCode(code: string): boolean {
  if (!isShaped(code)) return false
  const number = [...code.slice(0, 6)].reduce((n, s) => n * 32 + symbols.indexOf(s), 0)
  return symbols[number % 37] === code[6]
}
