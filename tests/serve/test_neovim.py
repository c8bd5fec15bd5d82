"""The language server in a real editor: Neovim, with the set-up that docs/editors.md tells of."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

import stilo

NEOVIM = shutil.which("nvim")
SETUP = Path(__file__).parents[2] / "examples" / "editors" / "neovim.lua"
#: What waits until the server has answered.
WAIT = """
local function wait(what) assert(vim.wait(10000, what, 20), "nothing came of it") end
local function lines() return table.concat(vim.api.nvim_buf_get_lines(0, 0, -1, true), "\\n") end
wait(function() local c = vim.lsp.get_active_clients()[1]; return c and c.initialized end)
local function keys(said)
  vim.api.nvim_feedkeys(vim.api.nvim_replace_termcodes(said, true, false, true), "xt", false)
end
"""
MESSY = "import os\ndef sail( berth,tide ):\n    deck = [ 1,2 ]\n    return   deck\n"

pytestmark = pytest.mark.skipif(NEOVIM is None, reason="Neovim is not installed")


def edit(folder: Path, name: str, text: str, steps: str) -> str:
    """The file after some steps in the editor."""
    path = folder / name
    path.write_text(text)
    (folder / "steps.lua").write_text(WAIT + steps)
    command = Path(sys.executable).parent
    environment = {**os.environ, "PATH": f"{command}:{os.environ['PATH']}", "HOME": str(folder)}
    done = subprocess.run(
        [str(NEOVIM), "--headless", "-u", str(SETUP), name, "-c", "luafile steps.lua", "-c", "qa!"],
        cwd=folder,
        env=environment,
        capture_output=True,
        timeout=60,
    )
    assert b"nothing came of it" not in done.stderr and done.returncode == 0, done.stderr.decode()
    return path.read_text()


def test_on_save(tmp_path: Path) -> None:
    assert edit(tmp_path, "a.py", MESSY, 'vim.cmd("write")') == stilo.reformat(MESSY, "python").text


def test_what_is_selected(tmp_path: Path) -> None:
    steps = """
    vim.api.nvim_clear_autocmds({ event = "BufWritePre" })
    vim.lsp.buf.range_formatting({}, { 3, 0 }, { 3, 4 })
    wait(function() return lines():find("%[1, 2%]") end)
    vim.cmd("write")
    """
    assert edit(tmp_path, "a.py", MESSY, steps) == MESSY.replace("[ 1,2 ]", "[1, 2]")


def test_as_it_is_typed(tmp_path: Path) -> None:
    steps = """
    vim.api.nvim_clear_autocmds({ event = "BufWritePre" })
    vim.api.nvim_win_set_cursor(0, { 3, 4 })
    vim.cmd("startinsert!")
    vim.defer_fn(function() keys("A<CR>") end, 10)
    wait(function() return lines():find("%[1, 2%]") end)
    vim.cmd("stopinsert")
    vim.cmd("write")
    """
    found = edit(tmp_path, "a.py", MESSY, steps)
    assert "deck = [1, 2]\n" in found and found.startswith("import os\ndef sail( berth,tide ):\n")


def test_imports_in_order(tmp_path: Path) -> None:
    (tmp_path / "stilo.toml").write_text('import.order = "groups"\n')
    text = "import sys\nimport os\n\nprint( os,sys )\n"
    steps = """
    vim.api.nvim_clear_autocmds({ event = "BufWritePre" })
    vim.ui.select = function(items, _, choose) choose(items[1]) end
    vim.lsp.buf.code_action({ context = { only = { "source.organizeImports" }, diagnostics = {} } })
    wait(function() return lines():find("^import os") end)
    vim.cmd("write")
    """
    wanted = "import os\nimport sys\n\nprint( os,sys )\n"
    assert edit(tmp_path, "a.py", text, steps) == wanted


def test_an_action_that_sets_a_value(tmp_path: Path) -> None:
    (tmp_path / "stilo.toml").write_text("width = 90  # wide\n")
    steps = """
    wait(function() return #vim.diagnostic.get(0) > 0 end)
    vim.ui.select = function(items, _, choose)
      for _, item in ipairs(items) do
        if item[2].title == "Set opening-bracket.after to space in stilo.toml" then
          choose(item)
        end
      end
    end
    vim.api.nvim_win_set_cursor(0, { 3, 12 })
    vim.lsp.buf.code_action()
    wait(function() return vim.fn.bufnr("stilo.toml") > 0 end)
    vim.cmd("buffer stilo.toml")
    vim.cmd("noautocmd write")
    """
    assert edit(tmp_path, "a.py", MESSY, steps) == MESSY
    saved = (tmp_path / "stilo.toml").read_text()
    assert saved == 'width = 90  # wide\n\n[python]\nopening-bracket.after = "space"\n'
