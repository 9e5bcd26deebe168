import styled from 'styled-components'

/** The criteria beside the trace, in a column of their own that scrolls. */
export const Side = styled.section`
  overflow: auto;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
`
