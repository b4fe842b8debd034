import { shallowReactive } from 'vue'

/** How the service worker marks an answer that it kept, since the server gave none in time. */
export const keptMark = 'X-Kept-On-Device'

/** Answers that came from this device: the path, and when the server had sent the answer. */
export const behind = shallowReactive(new Map<string, string>())

/** Asks again for what came from this device; true where the server now gave all of it. */
export async function askAgain(): Promise<boolean> {
  await Promise.all(
    [...behind.keys()].map((path) =>
      fetch(path).then(
        (answer) => note(answer.url, answer),
        () => undefined,
      ),
    ),
  )
  return !behind.size
}

/** Notes whether an answer is the server's of now. */
export function note(url: string, answer: Response) {
  const { pathname } = new URL(url)
  if (answer.headers.has(keptMark)) behind.set(pathname, answer.headers.get('Date') ?? '')
  else behind.delete(pathname)
}
