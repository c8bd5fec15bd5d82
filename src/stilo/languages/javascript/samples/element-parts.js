const row = <tr><td>Ulva</td><td>06:15</td></tr>;
const board = <ul>
  <li>Ulva</li>


  <li>Jura</li>
</ul>;
const deck = <p>
  {cars} {vans}</p>;
