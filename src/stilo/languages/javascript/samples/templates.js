const board = html`
<ul class="board"><li>${berth}</li></ul>
`;
