/** The code in what was typed or scanned: an address of any host, or the code alone. */
export function codeIn(text: string): string {
  const address = /\/i\/([^?#\s]+)/.exec(text)
  const raw = address ? decodeURIComponent(address[1]!) : text
  return raw.replace(/[\s-]/g, '').toUpperCase()
}

/** Whether it has the shape of a code: six symbols and a check symbol. */
export const isCode = (code: string) => /^[0-9A-Z]{6}[0-9A-Z*~$=]$/.test(code)
