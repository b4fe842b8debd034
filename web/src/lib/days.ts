import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced, useIntervalFn, watchDebounced } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import {
  api,
  must,
  Refused,
  type Board,
  type DayCover,
  type DayReport,
  type Filled,
  type Problem,
  type Slot,
} from '@/api/client'
import { judgedNothing } from '@/lib/given'
import { fromLines, inLines } from '@/lib/moves'
import type { Listening } from '@/lib/core'
import { useSession } from '@/stores/session'

/** What a long question was answered, or what was refused of it. */
function answered<T>(a: { data?: T; error?: unknown }): T {
  if (a.data === undefined) throw new Refused(a.error as Problem)
  return a.data
}

/** A board with nothing twice. */
export const fillDay = async (board: Board, how: Listening): Promise<Filled> =>
  answered(await fromLines(api.POST('/api/v1/day/fill', { body: { board }, ...inLines(how) }), how))

/** Which drops stay covered while their rescuers are shared. */
export const coverDay = async (board: Board, how: Listening): Promise<DayCover> =>
  answered(await fromLines(api.POST('/api/v1/day/cover', { body: { board }, ...inLines(how) }), how))

/** Minutes from midnight of a time of day. */
export const minutes = (clock: string) => 60 * Number(clock.slice(0, 2)) + Number(clock.slice(3, 5))

/** The time of day so many minutes from midnight; from 24:00 on it is the next day's. */
export const clock = (minute: number) =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`

/** A time of day on the board: between two drops of one day. */
const onGrid = (minute: number) => Math.min(23 * 60 + 45, Math.max(0, Math.round(minute / 15) * 15))

/** The day after so many. */
export function dayAfter(day: string, by: number): string {
  const d = new Date(`${day}T12:00:00Z`)
  d.setUTCDate(d.getUTCDate() + by)
  return d.toISOString().slice(0, 10)
}

/**
 * The wind of a day as it is pasted: lines of time, wind, gust, and "lightning"; commas, semicolons, tabs or blanks
 * between. What is not understood is named, and nothing is taken.
 */
export function readWind(text: string, day: string): { wind: Board['wind']; wrong: string } {
  const wind: NonNullable<Board['wind']> = []
  for (const [n, line] of text.split('\n').entries()) {
    const cells = line
      .trim()
      .split(/[,;\t ]+/)
      .filter(Boolean)
    if (!cells.length || (n === 0 && /^(at|time)$/i.test(cells[0]!))) continue
    const at = /^(?:(\d{4}-\d\d-\d\d)T)?(\d{1,2}):(\d\d)(?::00)?$/.exec(cells[0]!)
    const lightning = /^lightning$/i.test(cells.at(-1)!)
    const figures = cells.slice(1, lightning ? -1 : undefined)
    const understood = at && (!at[1] || at[1] === day) && figures.every((c) => /^\d+(\.\d+)?$/.test(c))
    if (!understood || !figures.length || figures.length > 2)
      return {
        wind: undefined,
        wrong: `line ${n + 1}: “${line.trim()}” is not a time of ${day}, a wind and a gust in m/s`,
      }
    wind.push({
      at: `${at[2]!.padStart(2, '0')}:${at[3]}`,
      wind_m_s: Number(figures[0]),
      ...(figures.length > 1 ? { gust_m_s: Number(figures[1]) } : {}),
      ...(lightning ? { lightning } : {}),
    })
  }
  return { wind: wind.length ? wind : undefined, wrong: '' }
}

/** The wind as it is written to be changed. */
export const writeWind = (wind: Board['wind']) =>
  (wind ?? [])
    .map((w) => [w.at, w.wind_m_s, w.gust_m_s ?? '', w.lightning ? 'lightning' : ''].join(' ').trim())
    .join('\n')

/**
 * The board of a day: as it is kept, changed here, judged at once, and kept again by who may.
 * Until it is judged anew what is shown of before is marked.
 */
export function useDay(date: Ref<string>) {
  const session = useSession()
  const client = useQueryClient()
  const board = ref<Board>()
  const report = ref<DayReport>()
  const failure = ref('')
  const state = ref<'kept' | 'keeping' | 'waiting' | 'not-mine' | 'failed'>('kept')
  /** What was judged last. */
  const judged = ref('')
  /** What the store has of each day, as it was fetched or kept here. */
  const stored = new Map<string, { text: string; etag: string }>()
  const keptHere = () => text.value === stored.get(date.value)?.text
  const text = computed(() => (board.value ? JSON.stringify(board.value) : ''))
  const current = computed(() => judged.value === text.value)

  const query = useQuery({
    queryKey: computed(() => ['days', date.value]),
    queryFn: async () => {
      const answer = await api.GET('/api/v1/days/{date}', { params: { path: { date: date.value } } })
      return { body: must(answer), etag: answer.response.headers.get('ETag') ?? '"0"' }
    },
  })
  const mine = computed(() => session.may('save-day'))

  function take(body: { board: Board; report: DayReport }, etag: string) {
    board.value = JSON.parse(JSON.stringify(body.board)) as Board
    report.value = body.report
    judged.value = JSON.stringify(body.board)
    stored.set(date.value, { text: judged.value, etag })
    state.value = 'kept'
  }
  // What was just changed is kept before another day, or another page, takes its place.
  const flush = (day: string) => {
    if (mine.value && text.value) void keep(day)
  }
  watch(
    date,
    (_, was) => {
      flush(was)
      board.value = undefined
    },
    { flush: 'sync' },
  )
  onScopeDispose(() => flush(date.value))
  watch(
    query.data,
    (d) => {
      // What is being changed here is not taken away; a save over another version is refused.
      if (d && (!board.value || keptHere())) take(d.body, d.etag)
    },
    { immediate: true },
  )

  function change(edit: (b: Board) => void) {
    if (!board.value) return
    const next = JSON.parse(text.value) as Board
    edit(next)
    failure.value = ''
    board.value = next
  }
  const changeSlot = (drop: string, edit: (s: Slot) => void) =>
    change((b) => {
      const s = b.slots.find((o) => o.drop === drop)
      if (s) edit(s)
    })
  const move = (drop: string, minute: number) => changeSlot(drop, (s) => (s.from = clock(onGrid(minute))))

  watchDebounced(
    text,
    async (now) => {
      if (!now || now === judged.value) return
      try {
        const r = must(await api.POST('/api/v1/day/check', { body: { board: JSON.parse(now) as Board } }))
        if (now === text.value) {
          report.value = r
          judged.value = now
        }
      } catch (e) {
        if (now === text.value) failure.value = e instanceof Refused ? refusal(e) : 'The server does not answer.'
      }
    },
    { debounce: 120 },
  )

  const settled = refDebounced(text, 700)
  watch(settled, (now) => {
    if (now && now === text.value) void keep(date.value)
  })
  let saving = Promise.resolve()
  /** One at a time: a save over a version that the one before is just making would be refused. */
  function keep(day: string) {
    const now = text.value
    return (saving = saving.then(() => save(day, now)))
  }
  // Where the server did not answer, it is tried again.
  useIntervalFn(() => void (state.value === 'waiting' && keep(date.value)), 3000)

  async function save(day: string, now: string) {
    const shown = () => day === date.value && board.value !== undefined
    const before = stored.get(day)
    if (!now || !before || now === before.text) return
    if (!mine.value) {
      if (shown()) state.value = 'not-mine'
      return
    }
    if (shown()) state.value = 'keeping'
    try {
      const answer = await api.PUT('/api/v1/days/{date}', {
        params: { path: { date: day }, header: { 'If-Match': before.etag } },
        body: JSON.parse(now) as Board,
      })
      const body = must(answer)
      void client.invalidateQueries({ queryKey: ['week'] })
      const etag = answer.response.headers.get('ETag') ?? before.etag
      stored.set(day, { text: now, etag })
      client.setQueryData(['days', day], { body, etag })
      if (!shown()) return
      state.value = 'kept'
      failure.value = ''
      // A day that was left and is back shows what it was before this was kept.
      if ([now, before.text].includes(text.value)) take(body, etag)
    } catch (e) {
      if (!shown()) return
      const judgedIt = e instanceof Refused && !judgedNothing(e.status)
      state.value = judgedIt ? 'failed' : 'waiting'
      if (!judgedIt) failure.value = 'The server does not answer: this is not kept yet, and is sent again.'
      else if (e.status === 412)
        failure.value = 'Somebody else changed this day meanwhile. Take theirs, then change it again.'
      else failure.value = refusal(e)
    }
  }

  /** Takes what is kept, and leaves what was changed here. */
  async function takeTheirs() {
    failure.value = ''
    const { data } = await query.refetch()
    if (data) take(data.body, data.etag)
  }

  return { board, report, current, query, mine, state, failure, change, changeSlot, move, takeTheirs }
}

const refusal = (e: Refused) => [e.message, ...e.faults.map((f) => `${f.pointer} ${f.detail}`)].join('; ')
