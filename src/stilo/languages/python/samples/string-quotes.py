say("Mind the gap", 'Fàilte', 'the "Puffin"', "the captain's", f'{deck}')
