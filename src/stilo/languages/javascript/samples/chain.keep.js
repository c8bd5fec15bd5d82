lanes.filter(lane => lane.isFree).map(lane => lane.length).sort().first();
of(lanes).filter(lane => lane.isFree).map(lane => lane.length).sort().first();
