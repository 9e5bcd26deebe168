import styled from 'styled-components'
import type { Reference } from './queries'

const FILES: [string, string][] = [
  ['csv', 'CSV'],
  ['mat', 'MATLAB'],
  ['h5', 'HDF5'],
  ['mf4', 'MDF'],
  ['parquet', 'Parquet'],
  ['wav', 'WAV'],
]

/** The reference as a bundle, and its capture as a file. */
export function Exports({ reference }: { reference: Reference }) {
  return (
    <Line>
      Export <a href={`/api/references/${reference.id}/pdf`}>the sheet to print</a>
      <a href={`/api/references/bundle?ids=${reference.id}`}>a bundle</a> the capture as{' '}
      {FILES.map(([ending, name]) => (
        <a key={ending} href={`/api/captures/${reference.capture_id}/file?ending=${ending}`}>
          {name}
        </a>
      ))}
    </Line>
  )
}

const Line = styled.span`
  a {
    color: inherit;
    margin-right: 7px;
  }
`
