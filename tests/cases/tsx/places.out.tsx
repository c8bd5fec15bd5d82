import * as React from 'react';
import { useState } from "react"
type Props = {
  harbour: string;
  sailings: Sailing[],
  onBook?: (sailing: Sailing) => void
}
export const Board: React.FC<Props> = ({
  harbour,
  sailings,
  onBook = () => {}
}) => {
  const [open, setOpen] = useState<boolean>(false)
  const late = sailings.filter(
    (sailing): sailing is Late =>
      sailing.delay > 0 && !sailing.isCancelled && sailing.harbour === harbour
  )
  return <ul className="board" onClick={() => setOpen(!open)}>
    {late.map(s => <li key={s.id}>{s.to}   {s.time}</li>)}
  </ul>
}

function Row<T extends Sailing>({ sailing }: { sailing: T }) {
  if (!sailing) {
    return null
  }
  return (<tr><td>{sailing.time}</td></tr>)
}
