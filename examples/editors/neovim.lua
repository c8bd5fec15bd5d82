-- Stilo in Neovim (0.7 and later): on save, on a key, as you type.
-- Put this into init.lua, or load it from there. `stilo` has to be on your PATH.

local languages = { "python", "java", "json", "toml" }
local options = { diagnostics = true } -- say what is not in style; leave it out for silence
local client

vim.api.nvim_create_autocmd("FileType", {
  pattern = languages,
  callback = function(event)
    client = client or vim.lsp.start_client({
      name = "stilo",
      cmd = { "stilo", "serve" },
      root_dir = vim.fn.getcwd(),
      init_options = options,
    })
    vim.lsp.buf_attach_client(event.buf, client)
  end,
})

local function lay_out()
  if vim.lsp.buf.format then
    vim.lsp.buf.format({ timeout_ms = 2000 })
  else
    vim.lsp.buf.formatting_sync(nil, 2000)
  end
end

-- On save.
vim.api.nvim_create_autocmd("BufWritePre", {
  callback = function()
    if client and vim.lsp.buf_is_attached(0, client) then
      lay_out()
    end
  end,
})

-- On a key: all, or what is selected.
vim.keymap.set("n", "<leader>l", lay_out)
vim.keymap.set("x", "<leader>l", function()
  vim.lsp.buf.range_formatting()
end)

-- The imports, what can be done about a finding, and what decided the white space under the cursor.
vim.keymap.set("n", "<leader>i", function()
  vim.lsp.buf.code_action({ context = { only = { "source.organizeImports" }, diagnostics = {} } })
end)
vim.keymap.set("n", "<leader>a", vim.lsp.buf.code_action)
vim.keymap.set("n", "<leader>w", vim.lsp.buf.hover)

-- As you type: a statement or a block, when you end it.
local function ended(sign)
  vim.schedule(function()
    local params = vim.lsp.util.make_formatting_params()
    params.position = vim.lsp.util.make_position_params().position
    params.ch = sign
    vim.lsp.buf_request(0, "textDocument/onTypeFormatting", params, function(_, edits, context)
      if edits then
        vim.lsp.util.apply_text_edits(edits, context.bufnr, "utf-16")
      end
    end)
  end)
end

for key, sign in pairs({ [";"] = ";", ["}"] = "}", ["<CR>"] = "\n" }) do
  vim.keymap.set("i", key, function()
    ended(sign)
    return key
  end, { expr = true })
end
