deck = "upper"
say(
    'the captain\'s',
    'the "Puffin"',
    "Mind the gap",
    "the captain's",
    "",
    b"x",
    r"\d",
    rb'\'',
    f"{deck}",
    f'{d["a"]}'
)
notice = """Fàilte
'air' bòrd"""
other = ''' "quoted" '''
