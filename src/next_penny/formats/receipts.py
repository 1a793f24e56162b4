"""Receipt files: what they are is told by their content, never by their name or by what the sender says."""

from next_penny.core.problems import NextPennyError

# As the formats' specifications give them: ISO 32000-1 section 7.5, ISO/IEC 15948 section 5, ISO/IEC 10918-1 annex B.
_PDF, _PDF_END = b"%PDF-", b"%%EOF"
_PNG, _PNG_END = b"\x89PNG\r\n\x1a\n", b"IEND"
_JPEG, _JPEG_END = b"\xff\xd8\xff", b"\xff\xd9"

LARGEST_RECEIPT = 10 * 1024 * 1024


class ReceiptError(NextPennyError, ValueError):
    """A file that cannot be kept as a receipt; the message is a sentence for the person who chose it."""


def receipt_type(content: bytes) -> str:
    """The media type of a receipt by its content. Raises ReceiptError for another type, or a cut or oversized file."""
    if len(content) > LARGEST_RECEIPT:
        raise ReceiptError("A receipt is at most 10 MB: choose a smaller file.")
    kinds = {
        "application/pdf": (_PDF, _PDF_END in content[-2048:]),
        "image/png": (_PNG, content[12:16] == b"IHDR" and _PNG_END in content[-16:]),
        "image/jpeg": (_JPEG, _JPEG_END in content[-4096:]),
    }
    for media_type, (head, is_whole) in kinds.items():
        if content.startswith(head):
            if not is_whole:
                raise ReceiptError("This file is damaged or cut short: choose it again.")
            return media_type
    raise ReceiptError("A receipt is a PDF, PNG or JPEG file: this one is something else.")
