moor(); // first
lower(ramp); // then

load();   // first
sail(on); // then
