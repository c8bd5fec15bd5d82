berths.forEach(berth => { berth.clear(); });
lanes.forEach(lane => {
  lane.clear();
});
