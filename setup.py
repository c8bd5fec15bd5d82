"""Compile the modules that take the time, where a C compiler is found.

They are plain Python, and run as they are without a compiler, and where Stilo is installed to be worked on
(`pip install -e`): a compiled module would hide what is edited. All else stands in pyproject.toml.
"""

from Cython.Build import cythonize
from Cython.Compiler.Errors import CompileError
from setuptools import Extension, setup
from setuptools.command.build_ext import build_ext

#: Where `bench/stages.py` shows the time. None calls itself, or no deeper than `DEEP`: compiled code knows no limit of depth.
COMPILED = (
    "layout.aligned",
    "layout.alternatives",
    "layout.authored",
    "layout.comments",
    "layout.fit",
    "layout.frontier",
    "layout.gaps",
    "layout.groups",
    "layout.indents",
    "layout.match",
    "layout.measures",
    "layout.nesting",
    "layout.planning",
    "layout.render",
    "layout.token_spacing",
    "layout.ways",
    "readers.grammar",
    "readers.look",
    "readers.reading",
    "readers.repair",
    "readers.words",
    "sheet.cascade",
    "sheet.conditions",
    "tree.flat",
    "tree.optional_brackets",
    "verify.compare",
)
#: More optimisation takes twice as long to compile, and runs no faster.
FLAGS = ["-O1", "-g0"]


def _extension(module: str) -> Extension:
    """A module that is left in Python if it cannot be compiled."""
    source = f"src/stilo/{module.replace('.', '/')}.py"
    return Extension(f"stilo.{module}", [source], extra_compile_args=FLAGS, optional=True)


class Compile(build_ext):
    """Translates each module to C, and compiles that."""

    def build_extensions(self) -> None:
        if self.editable_mode:
            return
        self.parallel = True
        translated = []
        for extension in self.extensions:
            try:
                translated += cythonize(
                    [extension],
                    build_dir=self.build_temp,
                    compiler_directives={"language_level": 3, "annotation_typing": False},
                    quiet=True,
                )
            except CompileError:
                print(f"{extension.name} is left in Python")
        sources = {extension.name: extension.sources for extension in translated}
        self.extensions = [e for e in self.extensions if e.name in sources]
        for extension in self.extensions:
            extension.sources = sources[extension.name]
        super().build_extensions()


setup(cmdclass={"build_ext": Compile}, ext_modules=[_extension(module) for module in COMPILED])
