import createClient from 'openapi-fetch'
import { note } from '@/lib/behind'
import type { components, paths } from './schema'

/** The API, typed from its description. */
export const api = createClient<paths>({ baseUrl: '/' })

/** Called when the server does not know any more who is signed in. */
let signedOut = () => undefined as void
export function onSignedOut(f: () => void) {
  signedOut = f
}

/** Whom this window shows itself for: their account and team; '' for nobody. */
let as = ''
export function showAs(account: string, team: string | undefined) {
  as = account && team ? `${account} ${team}` : ''
}
/** Says so with a request: windows share a session, and in another somebody else may have signed in. */
export const asWhom = (): Record<string, string> => (as ? { 'As-Signed-In': as } : {})
/** What asks or changes who is signed in. */
const ofSession = /\/api\/v1\/(session|join)(\/|$)/

api.use({
  onRequest({ request }) {
    if (ofSession.test(request.url)) return
    for (const [name, value] of Object.entries(asWhom())) request.headers.set(name, value)
  },
  onResponse({ response, request }) {
    if (request.method === 'GET') note(request.url, response)
    if (response.status === 401 && !request.url.endsWith('/api/v1/session')) signedOut()
  },
})

type Schemas = components['schemas']
export type Drop = Schemas['Document']
export type Report = Schemas['Report']
export type Finding = Schemas['Finding']
export type Working = Schemas['Working']
export type Figure = Schemas['Figure']
export type Severity = Finding['severity']
export type Strand = Schemas['Strand']
export type Mark = Schemas['Mark']
export type Anchor = Schemas['Anchor']
export type Person = Schemas['Person']
export type Hold = Schemas['Hold']
export type Link = Schemas['Link']
export type Item = Schemas['Item']
export type Model = Schemas['Model']
export type Place = Schemas['Place']
export type Choice = Schemas['Choice']
export type Choices = Schemas['Choices']
export type Row = Schemas['Row']
export type RunBody = Schemas['RunBody']
export type RunState = Schemas['RunState']
export type RunDocument = Schemas['RunDocument']
export type RunEvent = Schemas['RunEvent']
export type Standing = Schemas['RunStanding']
export type Channel = Schemas['Channel']
export type Accuracy = Schemas['RunAccuracy']
export type Loading = Accuracy['loading']
export type Reach = Schemas['RunReach']
export type AwayLine = Schemas['RunAwayLine']
export type EdgeLine = Schemas['RunEdgeLine']
export type CalloutKnown = Schemas['CalloutKnown']
export type CalloutCard = Schemas['CalloutCard']
export type CalloutDocument = Schemas['CalloutDocument']
export type CalloutMark = Schemas['CalloutMark']
export type CalloutReach = Schemas['CalloutReach']
export type Capability = Schemas['CalloutCapability']
export type Preplan = Schemas['CalloutPreplan']
export type Kit = Schemas['Kit']
export type Board = Schemas['DayBoard']
export type Slot = Schemas['DaySlot']
export type DayReport = Schemas['DayReport']
export type Lane = Schemas['DayLane']
export type PersonLane = Schemas['DayPersonLane']
export type Filled = Schemas['DayFilled']
export type DayCover = Schemas['DayCoverAnswer']
export type Proposal = Schemas['Proposal']
export type Proposed = Schemas['Proposed']
export type Fault = Schemas['Fault']
export type FormField = Schemas['FormField']
export type ArchiveAnswer = Schemas['ArchiveOutBody']
export type ImportAnswer = Schemas['ImportOutBody']
export type CountedKit = Schemas['KitCount']
export type ModelTried = Schemas['ModelTried']
export type History = Schemas['History']
export type LifeLine = Schemas['LifeLine']
export type RowOutcome = Schemas['RowOutcome']
export type Member = Schemas['Member']
export type Problem = Schemas['Problem']
export type HoldFigures = Schemas['HoldFigures']
export type AnchorFigures = Schemas['AnchorFigures']
export type LegFigures = Schemas['LegFigures']
export type Shown = Schemas['Shown']
export type Curves = Schemas['Curves']
export type Curve = Schemas['Curve']
export type FallAsked = Schemas['FallAsked']
export type FallAnswer = Schemas['FallAnswer']
export type Due = Schemas['Due']
export type Proof = Schemas['Proof']
export type Policy = Schemas['Policy']
export type ActionTime = Schemas['ActionTime']
export type Learnt = Schemas['RunLearnt']
export type Session = Schemas['SessionBody']
export type Role = Session['roles'][number]
export type Entry = Schemas['Entry']
export type Outcome = Schemas['Outcome']
export type WaitingAsked = Schemas['WaitingAsked']
export type WaitingAnswer = Schemas['WaitingAnswer']
export type RecordLine = Schemas['RecordLine']
export type Content = Schemas['Content']
export type Change = Schemas['Change']
export type Plan = Schemas['Plan']
export type Reason = Schemas['Reason']
export type MovePlan = Schemas['MovePlan']
export type MoveStep = Schemas['MoveStep']
export type Action = Schemas['Action']
export type Breach = Schemas['Breach']
export type Schools = Schemas['Schools']
/** How far something is that takes long. */
export type Progress = { part: number; done: number; total: number; of: string; most?: boolean }
export type MoveAnswer = Schemas['MoveAnswer']
export type ReplayAnswer = Schemas['ReplayAnswer']
export type Question = Schemas['Question']
export type Lost = Schemas['Lost']
export type TeamAsked = Schemas['TeamAsked']
export type TeamAnswer = Schemas['TeamAnswer']
export type TeamPlan = Schemas['TeamPlan']
export type TeamRig = Schemas['TeamRig']
export type Rescue = Schemas['Rescue']
export type RescueAsked = Schemas['RescueAsked']
export type DueLine = Schemas['DueLine']
export type ExaminationPoint = Schemas['ExaminationPoint']
export type Trend = Schemas['Trend']
export type MoveAsked = Schemas['MoveAsked']
export type ReplayAsked = Schemas['ReplayAsked']
export type RescueAnswer = Schemas['RescueAnswer']
export type RescueAction = Schemas['RescueAction']
export type RescuePlan = Schemas['RescuePlan']
export type RescueWay = Schemas['RescueWay']
export type RescueWait = Schemas['RescueWait']
export type TeamFigures = Schemas['TeamFigures']
export type TeamCall = Schemas['TeamCall']
export type Exercise = Schemas['DrillExercise']
export type ExerciseAsked = Schemas['DrillAsked']
export type ExerciseAnswer = Schemas['DrillAnswer']
export type ExerciseMark = Schemas['DrillMark']
export type ExerciseStanding = Schemas['DrillStanding']
export type Offer = Schemas['MoveOffer']
export type TeamOffer = Schemas['TeamOffer']
export type RescueOffer = Schemas['RescueOffer']
export type AnyOffer = Offer | TeamOffer | RescueOffer
export type JointSeen = Schemas['SeenBody']
export type JointTurn = Schemas['DrillTurn']
export type TeamAction = Schemas['TeamAction']
export type ClassDocument = Schemas['DrillClass']
export type Listed = Schemas['DrillListed']
export type KeptClass = Schemas['Class']
export type MarkLine = Schemas['MarkLine']
export type Practised = Schemas['Practised']
export type Built = Schemas['Built']
export type Reeving = Schemas['Reeving']
export type Membership = Schemas['Membership']

/** What a person reads when something was refused or could not be reached. */
export class Refused extends Error {
  readonly status: number
  readonly faults: Fault[]

  constructor(problem: Problem) {
    super(problem.detail ?? problem.title)
    this.status = problem.status
    this.faults = problem.errors ?? []
  }

  /** What was refused and why, in words for who sent it. */
  get words(): string {
    return [this.message, ...this.faults.map((f) => f.detail)].join(': ')
  }
}

/** Gives the data of an answer, or throws what was wrong. */
export function must<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.error !== undefined || !answer.response.ok) {
    const problem = answer.error as Problem | undefined
    throw new Refused(
      problem?.title
        ? problem
        : { type: 'about:blank', title: answer.response.statusText || 'no answer', status: answer.response.status },
    )
  }
  return answer.data as T
}
