const notice = `Berth ${ berth+1 } of ${quay . berths( "car",lanes )}, ${tide?"high":"low"} tide`;
