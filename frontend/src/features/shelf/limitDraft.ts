/** A limit while it is being set. */
/** A limit that is being set. Numbers are kept as they are typed. */
export interface LimitDraft {
  reading: string
  low: string
  high: string
  basis: 'maker' | 'own-fleet' | 'common-practice'
  zone: string
  source: string
  /** The condition that it holds under. */
  when: string
}

export const emptyLimit = (reading: string): LimitDraft => ({
  reading,
  low: '',
  high: '',
  basis: 'maker',
  zone: '',
  source: '',
  when: 'always',
})
