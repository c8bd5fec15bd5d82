import {useState} from "react"
import {Sailing} from "./timetable"
import type {Berth} from "../quay/berths/which-are-known-to-the-harbour-master/and-open-this-season"

type Props = {sailings: Sailing[], berths: Berth[], onBook?: (sailing: Sailing, passengers: number) => Promise<void>}

export const Departures = ({sailings, berths, onBook = async () => {}}: Props) => {
    const [passengers, setPassengers] = useState(1)
	const next = sailings.filter(sailing => sailing.departs > Date.now() && !sailing.isCancelled).sort((a, b) => a.departs - b.departs)[0]
  if (!sailings.length) return <p className="empty">No sailings today.</p>
    return (
  <section className="departures" aria-label="Departures of the day" data-count={sailings.length} onClick={() => { setPassengers(1) }}>
      <h2>Departures</h2> <small>all times are local</small>
        {next && (<p>The next sailing is the <b>{next.ferry}</b> at <time dateTime={next.departs.toISOString()}>{next.time}</time> from berth {next.berth}; boarding ends ten minutes before that.</p>)}


    <ul>{sailings.map(sailing => <li key={sailing.id} className={sailing.isCancelled ? "cancelled" : "open"}>{sailing.time}{" "}
        {sailing.isFull ? (<em>full</em>) : (<button type="button" onClick={async event => { event.preventDefault(); await onBook(sailing, passengers) }}>Book</button>)}
        </li>)}</ul>
      {/* The berths stand below the sailings. */}
      <Berths berths={berths} isOpen/>
  </section>)
}
