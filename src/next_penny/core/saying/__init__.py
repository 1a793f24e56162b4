"""What a household says in a sentence, read into changes or a question (docs/rules.md, Said in a sentence)."""
