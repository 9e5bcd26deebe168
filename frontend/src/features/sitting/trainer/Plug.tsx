/** The part's plug, drawn: a probe is chosen, then the wire that it goes on. */
import { useState } from 'react'
import styled, { useTheme } from 'styled-components'
import type { Circuit } from '../../../shared/facts'
import { Muted } from '../../../ui/layout'

export type Wires = Record<string, string>

interface Props {
  circuit: Circuit
  /** Lane by lane the wire that its probe is on. */
  wires: Wires
  onChange: (wires: Wires) => void
}

const PITCH = 62
const PIN_Y = 34
const END_Y = 112

export function Plug({ circuit, wires, onChange }: Props) {
  const theme = useTheme()
  const lanes = circuit.lanes.filter((l) => circuit.trainer.probed.includes(l.name))
  const [chosen, setChosen] = useState<string | null>(lanes.find((l) => !(l.name in wires))?.name ?? null)
  const title = (name: string) => circuit.lanes.find((l) => l.name === name)?.title ?? name
  const probe = (name: string) => String.fromCharCode(65 + lanes.findIndex((l) => l.name === name))
  const put = (pin: string) => {
    const on = Object.entries(wires).find(([lane, at]) => at === pin && lane !== chosen)
    const own = chosen ?? on?.[0]
    if (!own) return
    const rest = Object.fromEntries(Object.entries(wires).filter(([lane, at]) => lane !== own && at !== pin))
    const next = wires[own] === pin && !on ? rest : { ...rest, [own]: pin }
    onChange(next)
    setChosen(lanes.find((l) => !(l.name in next))?.name ?? null)
  }
  const tints = Object.values(theme.colour.ghost)
  const width = Math.max(PITCH * lanes.length, 100) + 16
  return (
    <Box aria-label="The plug">
      <Probes>
        {lanes.map((l) => (
          <button
            key={l.name}
            aria-pressed={chosen === l.name}
            title={`Probe of the lane ${l.title}`}
            onClick={() => setChosen(chosen === l.name ? null : l.name)}
            style={{ borderColor: theme.colour.lane[l.role] }}
          >
            <b>{probe(l.name)}</b> {l.title}
          </button>
        ))}
      </Probes>
      <Drawing style={{ width }}>
        <svg width={width} height={END_Y + 34} aria-hidden="true">
          <rect
            x={2}
            y={14}
            width={width - 4}
            height={40}
            rx={7}
            fill={theme.colour.sunk}
            stroke={theme.colour.edge}
          />
          <rect
            x={width / 2 - 15}
            y={5}
            width={30}
            height={9}
            rx={3}
            fill={theme.colour.phaseAlt}
            stroke={theme.colour.edge}
          />
          {lanes.map((l, k) => {
            const x = 8 + PITCH * (k + 0.5)
            const owner = Object.entries(wires).find(([, at]) => at === l.name)?.[0]
            const role = lanes.find((o) => o.name === owner)?.role
            return (
              <g key={l.name}>
                <line
                  x1={x}
                  y1={PIN_Y}
                  x2={x}
                  y2={END_Y}
                  stroke={tints[k % tints.length]}
                  strokeWidth={7}
                  strokeLinecap="round"
                />
                <circle cx={x} cy={PIN_Y} r={9} fill={theme.colour.sheet} stroke={theme.colour.ink} />
                <text x={x} y={PIN_Y + 4} textAnchor="middle" fontSize={12} fill={theme.colour.ink}>
                  {k + 1}
                </text>
                {owner && role && (
                  <>
                    <rect x={x - 12} y={74} width={24} height={22} rx={4} fill={theme.colour.lane[role]} />
                    <text
                      x={x}
                      y={90}
                      textAnchor="middle"
                      fontSize={14}
                      fontWeight={650}
                      fill={theme.colour.sheet}
                    >
                      {probe(owner)}
                    </text>
                  </>
                )}
              </g>
            )
          })}
        </svg>
        {lanes.map((l, k) => {
          const owner = Object.entries(wires).find(([, at]) => at === l.name)?.[0]
          return (
            <Wire
              key={l.name}
              style={{ left: 8 + PITCH * k, width: PITCH }}
              aria-label={`Wire ${k + 1}, ${l.title}: ${owner ? `probe ${probe(owner)}, ${title(owner)}` : 'no probe'}`}
              onClick={() => put(l.name)}
            >
              {l.title}
            </Wire>
          )
        })}
      </Drawing>
      <Muted>{chosen ? `Tap the wire for probe ${probe(chosen)}.` : 'Tap a probe to move it.'}</Muted>
    </Box>
  )
}

const Box = styled.section`
  display: flex;
  flex-direction: column;
  gap: 4px;
  flex: none;
`
const Probes = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  max-width: 260px;
  button {
    min-height: 34px;
    padding: 0 9px;
    border: 1px solid;
    border-left-width: 5px;
    border-radius: 4px;
    background: ${(p) => p.theme.colour.sheet};
    color: inherit;
    font-size: 13px;
    cursor: pointer;
    @media (pointer: coarse) {
      min-height: 44px;
    }
    &[aria-pressed='true'] {
      background: ${(p) => p.theme.colour.pick};
      font-weight: 650;
    }
  }
`
const Drawing = styled.div`
  position: relative;
`
const Wire = styled.button`
  position: absolute;
  top: 14px;
  height: ${END_Y + 20}px;
  padding: 0;
  border: 0;
  border-radius: 4px;
  background: none;
  color: inherit;
  font-size: 12px;
  line-height: 1.1;
  display: flex;
  align-items: flex-end;
  justify-content: center;
  text-align: center;
  cursor: pointer;
  &:hover {
    background: ${(p) => p.theme.colour.focus}18;
  }
`
