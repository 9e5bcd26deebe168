/** Tokens: every colour, size and face of the interface. No colour literal stands outside this file. */

const space = (steps: number): string => `${steps * 4}px`

const type = {
  text: '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif',
  mono: '"Atkinson Hyperlegible Mono Variable", ui-monospace, monospace',
}

const light = {
  floor: '#e8ecee',
  sheet: '#ffffff',
  sunk: '#f3f6f7',
  ink: '#14222a',
  soft: '#33454f',
  muted: '#53636d',
  hair: '#d0d9dd',
  faint: '#e4eaed',
  grid: '#edf1f3',
  zero: '#7f9099',
  bar: '#14222a',
  barInk: '#e9f0f2',
  barMuted: '#b8c8cf',
  accent: '#7fd0d8',
  accentInk: '#0c1a20',
  edge: '#9fb0b8',
  pick: '#fff3d6',
  warn: '#fff9ea',
  warnEdge: '#d3b46a',
  phase: '#eef3f4',
  phaseAlt: '#dfe8ea',
  overview: '#6d969c',
  focus: '#0b6470',
  sound: '#26663f',
  soundSoft: '#cfe3d6',
  fault: '#a1283b',
  unsure: '#7d5100',
  lane: {
    signal: '#0b6470',
    current: '#a6460b',
    supply: '#5a3e9b',
    ground: '#5c6b75',
    sync: '#6a6a14',
    scan: '#22447a',
  },
  ghost: {
    signal: '#8fc4ca',
    current: '#dca98a',
    supply: '#b7a7dc',
    ground: '#b4bec4',
    sync: '#c3c389',
    scan: '#94a8cc',
  },
}

const dark: typeof light = {
  floor: '#0d161b',
  sheet: '#16232a',
  sunk: '#111c22',
  ink: '#e6eef1',
  soft: '#c3d0d6',
  muted: '#9db0b9',
  hair: '#31444e',
  faint: '#24343d',
  grid: '#203039',
  zero: '#6f838d',
  bar: '#081014',
  barInk: '#e9f0f2',
  barMuted: '#a9bcc4',
  accent: '#7fd0d8',
  accentInk: '#0c1a20',
  edge: '#5d727d',
  pick: '#3b3420',
  warn: '#2d2817',
  warnEdge: '#8d7536',
  phase: '#1d2c34',
  phaseAlt: '#27404a',
  overview: '#7fb0b6',
  focus: '#7fd0d8',
  sound: '#7ccb98',
  soundSoft: '#24442f',
  fault: '#f08a97',
  unsure: '#e3b04b',
  lane: {
    signal: '#5cc3cf',
    current: '#f0965c',
    supply: '#b39df0',
    ground: '#a3b3bc',
    sync: '#c9c95c',
    scan: '#8fb1ee',
  },
  ghost: {
    signal: '#2c6b73',
    current: '#80502f',
    supply: '#5d4f8c',
    ground: '#55636b',
    sync: '#6b6b2f',
    scan: '#405a86',
  },
}

export type Colours = typeof light
export type LaneRole = keyof Colours['lane']

const common = { space, type, radius: '5px', small: '3px', touch: '44px', motion: '120ms' }

export type Theme = typeof common & { name: 'light' | 'dark'; colour: Colours }

export const themes: Record<'light' | 'dark', Theme> = {
  light: { ...common, name: 'light', colour: light },
  dark: { ...common, name: 'dark', colour: dark },
}
