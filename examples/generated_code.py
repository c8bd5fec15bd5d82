"""Code that a program writes: the fares of Skerry Line as methods, each laid out where it stands in its class.

    python examples/generated_code.py
"""

import stilo

FARES = {"car": 42, "van": 65, "bicycle": 6}
NOTE = '"""The fare of {0}s.\n\nCrossings at night take half.\n"""'
METHOD = (
    "def {0}_fare(self,sailing:Sailing,passengers:int=1,is_return:bool=False,card:str='')->Fare:\n"
    "  {note}\n"
    "  return self.tariff.fare(base={1},sailing=sailing,passengers=passengers,both_ways=is_return)\n"
)


def main() -> None:
    """Print the class."""
    print("class Fares:")
    for kind, fare in FARES.items():
        method = METHOD.format(kind, fare, note=NOTE.format(kind))
        print(stilo.reformat_at(method, "python", 4, {"width": 72, "docstrings": "align"}))


if __name__ == "__main__":
    main()
