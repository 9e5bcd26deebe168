import { useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Choice, Fields, Labelled, Text } from '../../ui/fields'
import { Panel, Stack } from '../../ui/layout'
import { Tick, ticked } from '../../ui/Tick'
import type { CaseDocument, Deed, Vehicle } from './caseState'
import { choicesQuery } from './queries'
import { words } from './words'

const listed = (text: string) =>
  text
    .split(',')
    .map((w) => w.trim())
    .filter(Boolean)

interface ListedProps {
  label: string
  words: string[]
  onWords: (words: string[]) => void
}

/** Words parted by commas. What is typed stands as it was typed, until the words are others. */
function Listed({ label, words, onWords }: ListedProps) {
  const [typed, setTyped] = useState(words.join(', '))
  const shown = listed(typed).join() === words.join() ? typed : words.join(', ')
  return (
    <Text
      label={label}
      value={shown}
      onChange={(text) => {
        setTyped(text)
        onWords(listed(text))
      }}
    />
  )
}

interface Props {
  document: CaseDocument
  onDeed: (deed: Deed) => void
}

/** The vehicle of a case and what is complained of. */
export function CaseSheet({ document, onDeed }: Props) {
  const { data: choices } = useSuspenseQuery(choicesQuery)
  const { vehicle, complaint } = document
  const one = (key: keyof Vehicle, label: string, options: string[]) => (
    <Choice
      label={label}
      value={String(vehicle[key])}
      options={options.map((k) => ({ key: k, text: words(k) }))}
      onChange={(v) => onDeed({ do: 'vehicle', set: { [key]: key === 'cylinders' ? Number(v) : v } })}
    />
  )
  return (
    <Panel>
      <h2>Complaint</h2>
      <Stack $gap={10}>
        <Labelled label="Symptoms">
          <Ticks>
            {choices.symptoms.map((s) => (
              <Tick
                key={s}
                on={complaint.symptoms.includes(s)}
                onSet={(on) =>
                  onDeed({ do: 'complaint', set: { symptoms: ticked(complaint.symptoms, s, on) } })
                }
              >
                {words(s)}
              </Tick>
            ))}
          </Ticks>
        </Labelled>
        <Labelled label="It shows">
          <Ticks>
            {choices.whens.map((w) => (
              <Tick
                key={w}
                on={complaint.when.includes(w)}
                onSet={(on) => onDeed({ do: 'complaint', set: { when: ticked(complaint.when, w, on) } })}
              >
                {words(w)}
              </Tick>
            ))}
          </Ticks>
        </Labelled>
        <Fields $least={112}>
          <Listed
            label="Renewed lately, as plug@1"
            words={document.renewed}
            onWords={(set) => onDeed({ do: 'renewed', set })}
          />
          <Listed
            label="Codes, as misfire@1"
            words={document.codes}
            onWords={(set) => onDeed({ do: 'codes', set })}
          />
        </Fields>
        <h2>Vehicle</h2>
        <Fields $least={112}>
          {one('fuel', 'Fuel', choices.fuels)}
          {one('cylinders', 'Cylinders', ['3', '4', '5', '6', '7', '8'])}
          {one('ignition', 'Ignition', choices.ignitions)}
          {one('injection', 'Injection', choices.injections)}
          {one('throttle', 'Throttle', choices.throttles)}
          {one('oxygen', 'Oxygen sensor', choices.oxygens)}
          {one('charging', 'Charging', choices.chargings)}
        </Fields>
        <Labelled label="Load is measured by">
          <Ticks>
            {choices.load_sensors.map((s) => (
              <Tick
                key={s}
                on={vehicle.load_sensor.includes(s)}
                onSet={(on) =>
                  onDeed({ do: 'vehicle', set: { load_sensor: ticked(vehicle.load_sensor, s, on) } })
                }
              >
                {words(s)}
              </Tick>
            ))}
          </Ticks>
        </Labelled>
      </Stack>
    </Panel>
  )
}

const Ticks = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
`
