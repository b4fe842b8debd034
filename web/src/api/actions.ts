// Generated from internal/core/manoeuvre by make generate.
import type { Action, Mark } from './client'

/** What an action is called in a list, and what it must be given. */
export type ActionRow = { label: string; needs: readonly ('item' | 'strand' | 'span' | 'at' | 'into')[] }

/** A person's actions. */
export const personActions: Record<Action['do'], ActionRow> = {
  'put-on': { label: 'put on', needs: ['item', 'strand', 'span', 'at'] },
  'take-off': { label: 'take off', needs: ['item'] },
  'lock': { label: 'lock', needs: ['item'] },
  'prove': { label: 'prove', needs: ['item'] },
  'clip': { label: 'clip in', needs: ['item', 'strand', 'span', 'into'] },
  'unclip': { label: 'unclip', needs: ['item'] },
  'move': { label: 'move along the rope', needs: ['item', 'at'] },
  'stand': { label: 'stand up', needs: ['item'] },
  'sit': { label: 'sit onto', needs: ['item'] },
  'lower-onto': { label: 'lower onto', needs: ['item'] },
  'climb': { label: 'climb to', needs: ['at'] },
  'descend': { label: 'descend to', needs: ['at'] },
  'park': { label: 'park', needs: ['item'] },
  'unpark': { label: 'unpark', needs: ['item'] },
  'tie': { label: 'tie a loop', needs: ['strand', 'span', 'at'] },
  'untie': { label: 'untie the loop', needs: [] },
  'land': { label: 'stand on the ground', needs: [] },
  'pass': { label: 'pass the deviation', needs: ['strand', 'span'] },
  'tie-off': { label: 'tie off', needs: ['item'] },
  'untie-off': { label: 'untie', needs: ['item'] },
  'work': { label: 'work', needs: [] },
  'isolate': { label: 'tie damage out', needs: ['strand', 'span'] },
}

/** The moves that a plan of a person may name. */
export const personMoves = [
  'leave-ground',
  'ascend',
  'ascend-to-descend',
  'descend-to-ascend',
  'descend',
  'pass-knots-up',
  'pass-knots-down',
  'rebelay-up',
  'rebelay-down',
  'deviation-up',
  'deviation-down',
  'isolate-damage',
  'transfer',
  'aid',
  'over-edge',
  'short-work',
  'there-and-back',
  'pick-off',
  'evacuate',
] as const

/** Those that nothing has to be in the way of. */
export const anywhere: readonly string[] = ['leave-ground', 'ascend', 'ascend-to-descend', 'descend-to-ascend', 'descend', 'over-edge', 'short-work', 'there-and-back']

/** The move that passes a mark of a kind, up or down. */
export const passes: { up: Record<Mark['kind'], string>; down: Record<Mark['kind'], string> } = {
  up: { 'knot': 'pass-knots-up', 'join': 'pass-knots-up', 're-belay': 'rebelay-up', 'deviation': 'deviation-up', 'damage': 'isolate-damage' },
  down: { 'knot': 'pass-knots-down', 'join': 'pass-knots-down', 're-belay': 'rebelay-down', 'deviation': 'deviation-down', 'damage': 'isolate-damage' },
}
