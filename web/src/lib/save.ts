/** Hands a file to the browser to keep. */
export function saveAs(file: Blob, name: string) {
  const a = document.createElement('a')
  a.href = URL.createObjectURL(file)
  a.download = name
  a.click()
  setTimeout(() => URL.revokeObjectURL(a.href), 10_000)
}
