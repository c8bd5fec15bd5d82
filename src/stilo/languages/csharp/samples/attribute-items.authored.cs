[
    Sailing,
    Ramped
]
class Ferry {}
