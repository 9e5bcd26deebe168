/** What a slip is called where it is listed; its reason stands beside the mark. */
const SLIPS: Record<string, string> = {
  wrong_sweep: 'another sweep',
  wrong_phase: 'another phase',
  wrong_cylinder: 'another cylinder',
  wrong_event: 'another event',
  wrong_edge: 'wrong edge',
  period_for_frequency: 'period for frequency',
  rounded_difference: 'difference of rounded figures',
  overlooked: 'overlooked',
  not_there: 'not in the capture',
  no_peg: 'no peg',
  peg_elsewhere: 'peg elsewhere',
  follow_through: 'follows from the reading',
  lower_basis: 'lower-ranking basis',
  over_called: 'over-called',
  over_passed: 'over-passed',
  held_back: 'held back',
  points_at_nothing: 'points at nothing',
  supply_not_shown: 'supply not shown',
  controller_before_grounds: 'controller before its grounds',
  copied_wrong: 'figure copied wrong',
  factor: 'unit or factor',
  half_forgotten: 'a turn for a cycle',
  turn_for_speed: 'a turn’s time for the speed',
  inverted_duty: 'other part of the period',
  from_nowhere: 'from no reading of this trace',
  inverted: 'divided the wrong way round',
}

export const slipWords = (code: string): string =>
  SLIPS[code] ?? (code === 'factor_-1' ? 'wrong sign' : code.startsWith('factor_') ? 'power of ten' : code)

interface Handed {
  slips: string[]
}

/** What was got wrong, by its names. */
export const slipsOf = (d: Handed): string => [...new Set(d.slips.map(slipWords))].slice(0, 3).join(', ')
