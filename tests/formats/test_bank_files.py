"""Files as banks really write them: headers on one line, missing and doubled tags, wrong character sets, any columns."""

from datetime import date
from typing import Any

import pytest

from next_penny.core.bank_lines.statements import FileLine
from next_penny.formats.bank_files.csv_tables import columns_said
from next_penny.formats.bank_files.reading import read_bank_file
from next_penny.formats.bank_files.texts import BankFileError

HEAD = "OFXHEADER:100 DATA:OFXSGML VERSION:102 SECURITY:NONE ENCODING:USASCII CHARSET:1252 COMPRESSION:NONE\n"


def ofx(lines: str, head: str = HEAD, currency: str = "USD") -> str:
    return (
        f"{head}<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>{currency}<BANKACCTFROM><BANKID>9<ACCTID>0012 3456"
        f"</BANKACCTFROM><BANKTRANLIST><DTSTART>20270201<DTEND>20270228{lines}</BANKTRANLIST><LEDGERBAL><BALAMT>-12.5"
        "<DTASOF>20270228</LEDGERBAL><AVAILBAL><BALAMT>900<DTASOF>20270301</AVAILBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>"
    )


@pytest.mark.parametrize(
    ("written", "line"),
    [
        ("<STMTTRN><DTPOSTED>20270203120000[-5:EST]<TRNAMT>-12,50<FITID>a<NAME>Ink &amp; Co<MEMO>card</STMTTRN>",
         FileLine(date(2027, 2, 3), -1250, "Ink & Co", "card", "a")),
        # In XML, mixed case, without an end, with a tag twice, its sign behind, its name in MEMO alone.
        ("<stmttrn><trnamt>1,234.56</trnamt><trnamt>9</trnamt><DtPosted>2027-02-04</DtPosted><MEMO>Only  memo</MEMO>",
         FileLine(date(2027, 2, 4), 123456, "Only memo")),
        ("<STMTTRN><DTPOSTED>00000000<DTAVAIL>20270205<TRNAMT>.5<CHECKNUM>107<PAYEE><NAME>Payee</PAYEE></STMTTRN>",
         FileLine(date(2027, 2, 5), 50, "Payee", number="107")),
        ("<STMTTRN><DTPOSTED>20270206<TRNAMT>-1.234,50<NAME><![CDATA[A < B]]></STMTTRN>",
         FileLine(date(2027, 2, 6), -123450, "A < B")),
    ],
)  # fmt: skip
def test_a_line_of_ofx_is_read_however_it_is_written(written: str, line: FileLine) -> None:
    found = read_bank_file(ofx(written).encode("cp1252"), "EUR").file
    assert found.statements[0].lines == (line,)
    assert found.statements[0].number == "0012 3456"
    assert found.statements[0].closing == (date(2027, 2, 28), -1250)


def test_what_of_ofx_cannot_be_read_is_told_and_the_rest_is_read() -> None:
    lines = (
        "<STMTTRN><DTPOSTED>20270201<TRNAMT>0.00<NAME>Nil</STMTTRN><STMTTRN><DTPOSTED>00000000<TRNAMT>1<NAME>No day</STMTTRN>"
        "<STMTTRN><DTPOSTED>20270202<TRNAMT>abc</STMTTRN><STMTTRN><DTPOSTED>20270203<TRNAMT>5<NAME>Caf\xe9</STMTTRN>"
        "<STMTTRN><DTPOSTED>20270203<TRNAMT>5<CURRENCY><CURSYM>EUR</CURRENCY></STMTTRN>"
    )
    found = read_bank_file(ofx(lines).encode("latin-1"), "USD").file
    assert [line.payee for line in found.statements[0].lines] == ["Café"]
    assert [each.where for each in found.left_out] == [
        "Transaction 1 (Nil)", "Transaction 2 (No day)", "Transaction 3", "Transaction 5",
    ]  # fmt: skip
    # It says that it is of one character set, and is of another.
    assert read_bank_file(ofx(lines).encode(), "USD").file.statements[0].lines[0].payee == "Café"


def camt(entries: str, version: str = "08") -> bytes:
    head = f'<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.{version}">'
    balances = "".join(
        f"<Bal><Tp><CdOrPrtry><Cd>{code}</Cd></CdOrPrtry></Tp><Amt Ccy='EUR'>{amount}</Amt><CdtDbtInd>{side}</CdtDbtInd>"
        "<Dt><Dt>2027-02-28</Dt></Dt></Bal>"
        for code, amount, side in (("CLAV", "99", "CRDT"), ("CLBD", "10.50", "DBIT"))
    )
    account = "<Acct><Id><IBAN>XX12000034</IBAN></Id><Ccy>EUR</Ccy></Acct>"
    return f"{head}<BkToCstmrStmt><Stmt>{account}{balances}{entries}</Stmt></BkToCstmrStmt></Document>".encode()


def entry(amount: str, side: str, status: str = "<Cd>BOOK</Cd>", rest: str = "", day: str = "BookgDt") -> str:
    return (
        f"<Ntry><Amt Ccy='EUR'>{amount}</Amt><CdtDbtInd>{side}</CdtDbtInd><RvslInd>true</RvslInd><Sts>{status}</Sts>"
        f"<{day}><Dt>2027-02-03+13:00</Dt></{day}><AcctSvcrRef>R1</AcctSvcrRef>{rest}</Ntry>"
    )


def detail(amount: str, side: str, name: str) -> str:
    own = f"<Amt Ccy='EUR'>{amount}</Amt>" if amount else ""
    party = f"<RltdPties><Dbtr><Pty><Nm>Us</Nm></Pty></Dbtr><Cdtr><Nm>{name}</Nm></Cdtr></RltdPties>"
    return f"<TxDtls>{own}<CdtDbtInd>{side}</CdtDbtInd>{party}<RmtInf><Ustrd>for</Ustrd><Ustrd>it</Ustrd></RmtInf></TxDtls>"


def test_camt_is_read_by_entries_or_by_the_details_that_make_one_up() -> None:
    parts = f"<NtryDtls>{detail('40', 'DBIT', 'One')}{detail('10', 'CRDT', 'Two')}</NtryDtls>"
    uneven = f"<NtryDtls>{detail('5', 'DBIT', 'One')}{detail('', 'DBIT', 'Two')}</NtryDtls>"
    content = camt(
        entry("30.00000", "DBIT", rest=parts) + entry("7", "CRDT", "BOOK", day="ValDt") + entry("1", "CRDT", "PDNG")
        + entry("9", "DBIT", rest=uneven + "<AddtlNtryInf>Batch</AddtlNtryInf>") + entry("0.00", "DBIT")
    )  # fmt: skip
    found = read_bank_file(content, "USD").file
    day = date(2027, 2, 3)
    assert found.statements[0].lines == (
        FileLine(day, -4000, "One", "for it", "R1/1"), FileLine(day, 1000, "Us", "for it", "R1/2"),
        FileLine(day, 700, "", "", "R1"), FileLine(day, -900, "Batch", "", "R1"),
    )  # fmt: skip
    assert (found.statements[0].closing, found.statements[0].currency) == ((date(2027, 2, 28), -1050), "EUR")
    assert [each.where for each in found.left_out] == ["Entry 5"]


@pytest.mark.parametrize(
    ("table", "columns", "lines"),
    [
        ("Date,Description,Amount,Balance\n2027-02-01,Shop,-12.50,100.00\n2027-02-02,Pay,50.00,150.00\n,Total,37.50,\n",
         {"date": "Date", "payee": "Description", "amount": "Amount"}, [("02-01", -1250, "Shop"), ("02-02", 5000, "Pay")]),
        ("Account 7\nfrom 1.2.\n\nBuchungstag;Text;Soll;Haben\n01.02.2027;Rent;1.250,00;\n13.02.2027;Pay;;2.000,50\n",
         {"date": "Buchungstag", "out": "Soll", "in": "Haben", "payee": "Text"},
         [("02-01", -125000, "Rent"), ("02-13", 200050, "Pay")]),
        ("Day;Who;D/C;Sum\n13/02/27;A;D;12,5\n14/02/27;B;C;1.000\n", {"date": "Day", "side": "D/C", "amount": "Sum"},
         [("02-13", -1250, "A"), ("02-14", 100000, "B")]),
        # No headers, brackets and signs behind; only the household knows which comes first.
        ('2/3/2027,Ink,(3.50)\n2/4/2027,Gas,"1,020.10-"\n', {"date": 0, "payee": 1, "amount": 2},
         [("03-02", -350, "Ink"), ("04-02", -102010, "Gas")]),
        ("Posted\tPayee\tMoney In\tMoney Out\n3 Feb 2027\tX\t\t12\nFeb 4, 2027\tY\t10\t\n",
         {"in": "Money In", "out": "Money Out"}, [("02-03", -1200, "X"), ("02-04", 1000, "Y")]),
    ],
)  # fmt: skip
def test_a_table_of_any_columns_is_read(table: str, columns: dict[str, Any], lines: list[tuple[str, int, str]]) -> None:
    found = read_bank_file(table.encode(), "EUR", None, "day_first")
    assert found.table is not None
    said = columns_said(found.table) or {}
    assert {name: said[name] for name in columns} == columns
    assert [(f"{line.date:%m-%d}", line.amount, line.payee) for line in found.file.statements[0].lines] == lines
    # What a person names is taken, and sums without a day are told.
    named = {name: value for name, value in said.items() if value is not None}
    assert read_bank_file(table.encode(), "EUR", named, "month_first").file == found.file
    assert len(found.file.left_out) == table.count("Total")


@pytest.mark.parametrize(
    ("content", "told"),
    [
        (b"", "empty"), (b"\x00\x01" * 40, "were looked for"), (b"hello", "were looked for"),
        (b"<OFX></OFX>", "no statement"), (b"<Document><Stmt>", "cut off"), (b"<a/>", "no bank statement"),
        (b"<?xml version='1.0'?><!DOCTYPE a [<!ENTITY x 'y'>]><Document/>", "DOCTYPE"),
        (ofx("").replace("<OFX>", "<!DOCTYPE x><OFX>").encode(), "DOCTYPE"), (b"a,b\n" * 2**22, "too large"),
    ],
)  # fmt: skip
def test_what_is_no_banks_file_is_said_to_be_none(content: bytes, told: str) -> None:
    with pytest.raises(BankFileError, match=told):
        read_bank_file(content, "USD")


def test_a_currency_without_decimals_has_whole_amounts() -> None:
    lines = (
        "<STMTTRN><DTPOSTED>20270203<TRNAMT>-1200<NAME>A</STMTTRN><STMTTRN><DTPOSTED>20270203<TRNAMT>1,200</STMTTRN>"
    )
    found = read_bank_file(
        ofx(lines + "<STMTTRN><DTPOSTED>20270204<TRNAMT>1.5</STMTTRN>", currency="JPY").encode(), "USD"
    )
    assert [line.amount for line in found.file.statements[0].lines] == [-1200, 1200]
    assert len(found.file.left_out) == 1
