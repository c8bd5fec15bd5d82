const note = <p>The <b>Ulva</b> leaves at <time>{at}</time> from the northern quay, as every day.</p>;
const short = <p>
  The Ulva
  leaves
  now
</p>;
const two = <p>
  The Ulva leaves.


  <b>At once</b>
</p>;
