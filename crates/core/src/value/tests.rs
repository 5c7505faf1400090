use super::*;
use crate::{
    Clock,
    fault::FaultKind,
    id::PersonId,
    people::{People, Person},
    schema::{Choice, Hue, Kind},
};
use jiff::tz::TimeZone;
use proptest::prelude::*;

fn clock() -> Clock {
    Clock::new("2026-11-23T23:30:00Z".parse().unwrap(), TimeZone::get("Europe/London").unwrap())
}

fn people() -> People {
    let person = |id, name: &str| Person::new(PersonId::new(id).unwrap(), name, format!("p{id}@team.example"));
    People::new([person(1, "Tamsin Oake"), person(2, "Idris Pell"), person(3, "Idris Pell")])
}

fn severity() -> Kind {
    let option = |id, name: &str| Choice { id: crate::id::OptionId::new(id).unwrap(), name: name.into(), hue: Hue::Fern, under: None };
    Kind::Choice { options: vec![option(7, "blocked"), option(8, "dangerous")], on: None }
}

fn number() -> Kind {
    Kind::Number { decimals: 1, unit: "km".into() }
}

#[track_caller]
fn check(kind: &Kind, typed: &str, expected: Result<&str, FaultKind>) {
    check_in(Locale::default(), kind, typed, expected);
}

#[track_caller]
fn check_in(locale: Locale, kind: &Kind, typed: &str, expected: Result<&str, FaultKind>) {
    let read = parse(typed, kind, locale, &people(), &clock());
    let read = read.map(|value| serde_json::to_string(&value).unwrap()).map_err(|fault| fault.kind);
    assert_eq!(read.as_deref(), expected.as_ref().map(|s| &**s), "typed: {typed}");
}

#[test]
fn numbers_are_read_as_the_locale_says_and_never_guessed() {
    check(&number(), "12.5", Ok(r#"{"number":"12.5"}"#));
    check(&number(), " 1,234.50 km ", Ok(r#"{"number":"1234.50"}"#));
    check(&number(), "-0.1", Ok(r#"{"number":"-0.1"}"#));
    check(&number(), "12,5", Err(FaultKind::WrongKind));
    check(&number(), "1,23,456", Err(FaultKind::WrongKind));
    check(&number(), "twelve", Err(FaultKind::WrongKind));
    for (typed, number) in [
        ("+12", "12"),
        ("(1,234.50)", "-1234.50"),
        ("1,234.50-", "-1234.50"),
        ("8'496.47", "8496.47"),
        ("8’496.47", "8496.47"),
        ("7.6E-03", "0.0076"),
        ("1e5", "100000"),
        ("1.5E+3 km", "1500.0"),
        ("-0.5 km", "-0.5"),
        ("km 3", "3"),
        ("- 4", "-4"),
    ] {
        check(&super::tests::number(), typed, Ok(&format!("{{\"number\":\"{number}\"}}")));
    }
    for typed in ["--5", "(-5)", "-5-", "+(5)", "1e", "1e99", "e5", "1e-99", "5'00", "()", "-", "+"] {
        check(&number(), typed, Err(FaultKind::WrongKind));
    }
    check(&number(), "99999999999999999999999999999999", Err(FaultKind::WrongKind));
    let comma = Locale { decimal_comma: true, ..Locale::default() };
    check_in(comma, &number(), "12,5", Ok(r#"{"number":"12.5"}"#));
    check_in(comma, &number(), "1.234,5", Ok(r#"{"number":"1234.5"}"#));
    check_in(comma, &number(), "12.5", Err(FaultKind::WrongKind));
}

#[test]
fn dates_are_read_in_many_ways_but_one_order() {
    let november = Ok(r#"{"date":"2026-11-18"}"#);
    for typed in [
        "2026-11-18",
        "18/11/2026",
        "18.11.2026",
        "18 Nov 2026",
        "18 november 2026",
        "Nov 18, 2026",
        "18 Nov",
        "18/11/26",
        "18-Nov-26",
        "18th November 2026",
        "Wednesday, 18 November 2026",
        "Mi, 18. November 2026",
        "18 novembre 2026",
        "18 de noviembre de 2026",
        "20261118",
        "2026/11/18",
    ] {
        check(&Kind::Date, typed, november);
    }
    check(&Kind::Date, "3/4/2026", Ok(r#"{"date":"2026-04-03"}"#));
    check_in(Locale { day_first: false, ..Locale::default() }, &Kind::Date, "3/4/2026", Ok(r#"{"date":"2026-03-04"}"#));
    check(&Kind::Date, "29 Feb 2028", Ok(r#"{"date":"2028-02-29"}"#));
    for typed in [
        "30 Feb 2026",
        "29 Feb 2026",
        "11/18/2026",
        "soon",
        "2026-13-01",
        "18/11/026",
        "18 jui 2026",
        "20261318",
        "0th May 2026",
        "18 Nov 2026 5",
    ] {
        check(&Kind::Date, typed, Err(FaultKind::WrongKind));
    }
    // Years of two digits lie between 1950 and 2049.
    check(&Kind::Date, "18/11/50", Ok(r#"{"date":"1950-11-18"}"#));
    check(&Kind::Date, "18/11/49", Ok(r#"{"date":"2049-11-18"}"#));
    // Half past eleven at night in London: tomorrow is the next day of the tracker's zone.
    check(&Kind::Date, "tomorrow", Ok(r#"{"date":"2026-11-24"}"#));
}

#[test]
fn moments_are_of_the_trackers_zone_in_summer_and_winter() {
    check(&Kind::DateTime, "18 Nov 2026 15:40", Ok(r#"{"instant":"2026-11-18T15:40:00Z"}"#));
    check(&Kind::DateTime, "18 Jul 2026, 15:40", Ok(r#"{"instant":"2026-07-18T14:40:00Z"}"#));
    check(&Kind::DateTime, "18 Jul 2026 25:00", Err(FaultKind::WrongKind));
    for typed in [
        "18/11/2026 3:40 pm",
        "2026-11-18T15:40",
        "18.11.26, 15h40",
        "18 Nov 2026 at 3.40 pm",
        "2026-11-18 15:40:00.000",
        "2026-11-18T15:40:00Z",
    ] {
        let expected = if typed.contains("3.40") { Err(FaultKind::WrongKind) } else { Ok(r#"{"instant":"2026-11-18T15:40:00Z"}"#) };
        check(&Kind::DateTime, typed, expected);
    }
}

#[test]
fn years_of_two_digits_mean_the_hundred_years_that_are_said() {
    let read = |text: &str, years_from| {
        let reading = super::DateReading { order: super::DateOrder::Day, years_from, today: None };
        super::read_day(text, reading).map(|day| day.year())
    };
    for (text, from, year) in [
        ("1/2/49", 1950, 2049),
        ("1/2/50", 1950, 1950),
        ("1/2/49", 1900, 1949),
        ("1/2/00", 1901, 2000),
        ("1/2/01", 1901, 1901),
        ("1/2/69", 1970, 2069),
        ("1/2/2026", 1800, 2026),
        ("1 Feb ’26", 1950, 2026),
    ] {
        assert_eq!(read(text, from), Some(year), "{text} from {from}");
    }
    // Nothing that is said of years stops the reading.
    for from in [i16::MIN, i16::MAX, 0, -1, 9_999] {
        let _ = read("1/2/49", from);
    }
    // A file says nothing of the day on which it is read.
    assert_eq!((read("tomorrow", 1950), read("18 Nov", 1950), read("3/4", 1950)), (None, None, None));
}

#[test]
fn ranges_may_leave_out_what_their_end_says() {
    for typed in [
        "3–5 March 2026",
        "3-5 March 2026",
        "3 Mar – 5 Mar 2026",
        "3/3/2026 - 5/3/2026",
        "2026-03-03/2026-03-05",
        "from 3 March 2026 to 5 March 2026",
        "3. bis 5. März 2026",
    ] {
        check(&Kind::Range, typed, Ok(r#"{"range":["2026-03-03","2026-03-05"]}"#));
    }
    check(&Kind::Range, "5 March 2026", Ok(r#"{"range":["2026-03-05","2026-03-05"]}"#));
    check(&Kind::Range, "5–3 March 2026", Err(FaultKind::WrongKind));
    check(&Kind::Range, "March to May", Err(FaultKind::WrongKind));
}

#[test]
fn amounts_are_read_with_their_currency_before_or_behind() {
    let pounds = Kind::Money { currency: "GBP".into() };
    for typed in ["£12.50", "12.50 GBP", "GBP 12.50", "£ 12.50", "+£12.50"] {
        check(&pounds, typed, Ok(r#"{"number":"12.50"}"#));
    }
    check(&pounds, "(£12.50)", Ok(r#"{"number":"-12.50"}"#));
    check(&pounds, "-£12.50", Ok(r#"{"number":"-12.50"}"#));
    check(&pounds, "£12.505", Err(FaultKind::WrongKind));
    check(&pounds, "€12.50", Err(FaultKind::WrongKind));
    check(&Kind::Money { currency: "CHF".into() }, "CHF 8'496.–", Ok(r#"{"number":"8496"}"#));
    check(&Kind::Percent { decimals: 1 }, "+7.5 %", Ok(r#"{"number":"0.075"}"#));
    check(&Kind::Percent { decimals: 1 }, "(7.5%)", Ok(r#"{"number":"-0.075"}"#));
}

#[test]
fn yes_and_no_are_known_in_several_languages() {
    for typed in ["yes", "Ja", "oui", "SÍ", "x", "1", "wahr"] {
        check(&Kind::YesNo, typed, Ok(r#"{"logical":true}"#));
    }
    for typed in ["no", "Nein", "non", "não", "-", "0", "faux"] {
        check(&Kind::YesNo, typed, Ok(r#"{"logical":false}"#));
    }
    check(&Kind::YesNo, "maybe", Err(FaultKind::WrongKind));
}

#[test]
fn options_and_people_are_found_by_name_whatever_the_capitals() {
    check(&severity(), "Blocked", Ok(r#"{"choice":7}"#));
    check(&severity(), "block", Err(FaultKind::UnknownOption));
    check(&Kind::Person, "tamsin oake", Ok(r#"{"person":1}"#));
    check(&Kind::Person, "Idris Pell", Err(FaultKind::WrongKind));
    check(&Kind::Person, "P2@team.example", Ok(r#"{"person":2}"#));
    check(&Kind::CreatedAt, "now", Err(FaultKind::ReadOnly));
}

#[test]
fn numbers_are_shown_with_thousands_and_without_rounding() {
    let show = |text: &str, decimals| Customs::default().number_text(text.parse().unwrap(), decimals, "km").replace('\u{a0}', " ");
    assert_eq!(show("1234567.8", 1), "1,234,567.8 km");
    assert_eq!(show("-1234", 2), "\u{2212}1,234.00 km");
    assert_eq!(show("0.125", 1), "0.125 km");
    assert_eq!(show("-0", 0), "0 km");
}

#[test]
fn texts_sort_as_people_expect() {
    let mut names = ["PS-10", "ps-9", "Éclair", "eclair", "echo", "PS-010", "zebra", "Area 2 b", "area 10 a", "100", "20"];
    names.sort_by(|a, b| natural_cmp(a, b));
    assert_eq!(names, ["20", "100", "Area 2 b", "area 10 a", "echo", "eclair", "Éclair", "ps-9", "PS-010", "PS-10", "zebra"]);
}

proptest! {
    #[test]
    fn keys_never_contradict_the_whole_order(a in "\\PC{0,12}", b in "\\PC{0,12}") {
        let (keys, whole) = (text_key(&a).cmp(&text_key(&b)), natural_cmp(&a, &b));
        prop_assert!(keys.is_eq() || keys == whole, "{:?} {:?}", keys, whole);
        prop_assert_eq!(whole, natural_cmp(&b, &a).reverse());
    }

    #[test]
    fn what_is_shown_of_a_number_reads_back(units in -10_000_000_i64..10_000_000, scale in 0_u32..6) {
        let value = rust_decimal::Decimal::new(units, scale);
        let shown = Customs::default().number_text(value, 0, "");
        let read = parse(&shown, &Kind::Number { decimals: 0, unit: String::new() }, Locale::default(), &people(), &clock()).unwrap();
        let expected = Value::Number(value);
        prop_assert!(matches!((&read, &expected), (Value::Number(a), Value::Number(b)) if a == b), "{}", shown);
    }

    #[test]
    fn what_is_shown_by_somebodys_customs_reads_back_by_them(
        units in -10_000_000_i64..10_000_000,
        scale in 0_u32..6,
        days in -20_000_i64..20_000,
        which in 0..Customs::ALL.len(),
    ) {
        let by = Customs::ALL[which];
        // No hour comes twice in this zone.
        let clock = Clock { by: Some(by), ..Clock::new(clock().now, TimeZone::UTC) };
        let amount = |scale| Value::Number(rust_decimal::Decimal::new(units, scale));
        let day = |more: i64| plus_days(jiff::civil::date(2026, 11, 18), days + more).unwrap();
        let moment = jiff::Timestamp::from_second(1_790_000_040 + units * 60).unwrap();
        let shown = [
            (amount(scale), number(), number().number_words(rust_decimal::Decimal::new(units, scale), 0, by)),
            (amount(2), Kind::Money { currency: "EUR".into() }, by.money_text(rust_decimal::Decimal::new(units, 2), "EUR")),
            (amount(2), Kind::Money { currency: "CHF".into() }, by.money_text(rust_decimal::Decimal::new(units, 2), "CHF")),
            (amount(5), Kind::Percent { decimals: 1 }, by.share_text(rust_decimal::Decimal::new(units, 5), 1)),
            (Value::Date(day(0)), Kind::Date, by.date_text(day(0))),
            (Value::Range(day(0), day(40)), Kind::Range, by.range_text(day(0), day(40))),
            (Value::Instant(moment), Kind::DateTime, moment_text(moment, &clock)),
        ];
        for (value, kind, text) in shown {
            let read = parse(&text, &kind, clock.typed(Locale::default()), &people(), &clock);
            prop_assert_eq!(read.as_ref(), Ok(&value), "{}", text);
        }
    }

    /// What a form begins with is sent as it stands in the box, whatever its kind and wherever the reader is.
    #[test]
    fn what_one_would_type_is_read_as_the_same_value(units in -10_000_000_i64..10_000_000, seconds in 0_i64..10_000_000, comma: bool) {
        let locale = Locale { decimal_comma: comma, ..Locale::default() };
        let amount = |scale| Value::Number(rust_decimal::Decimal::new(units, scale));
        let place = Place { label: "Old gate".into(), latitude: rust_decimal::Decimal::new(units, 6), longitude: 3.into() };
        let cases = [
            (amount(3), number()),
            (amount(2), Kind::Money { currency: "GBP".into() }),
            (amount(5), Kind::Percent { decimals: 1 }),
            (Value::Number(seconds.into()), Kind::Duration),
            (Value::Place(Arc::new(place)), Kind::Place),
        ];
        for (value, kind) in cases {
            let text = typed(&value, &kind, locale).unwrap();
            let read = parse(&text, &kind, locale, &people(), &clock()).unwrap();
            let same = match (&read, &value) {
                (Value::Number(a), Value::Number(b)) => a == b,
                (read, value) => serde_json::to_string(read).unwrap() == serde_json::to_string(value).unwrap() || read == value,
            };
            prop_assert!(same, "{} as {:?}", text, read);
        }
    }

    #[test]
    fn finding_ignores_capitals_and_accents(word in "[a-zéèü]{1,8}", around in "[A-Z ]{0,5}") {
        let text = format!("{around}{}{around}", word.to_uppercase());
        prop_assert!(contains_folded(&text, &fold(&word)));
    }

    #[test]
    fn no_typed_text_can_make_parsing_panic(typed in "\\PC{0,40}") {
        for kind in [Kind::Date, Kind::DateTime, number(), severity(), Kind::Person, Kind::Email] {
            let _ = parse(&typed, &kind, Locale::default(), &people(), &clock());
        }
    }
}

fn link() -> Kind {
    let id = crate::id::FieldId::new(1).unwrap();
    Kind::Link(crate::schema::Link { to: crate::id::TableId::new(1).unwrap(), back: id, one: true, holds: true })
}

fn kinds() -> Vec<Kind> {
    vec![
        Kind::Text { limit: 100 },
        Kind::LongText,
        number(),
        Kind::Money { currency: "GBP".into() },
        Kind::Percent { decimals: 1 },
        Kind::Rating { most: 5 },
        Kind::YesNo,
        Kind::Date,
        Kind::DateTime,
        Kind::Range,
        Kind::Duration,
        severity(),
        Kind::Choices { options: severity().options().to_vec() },
        Kind::Person,
        Kind::People,
        Kind::Email,
        Kind::Phone,
        Kind::Web,
        Kind::Place,
        Kind::Checklist,
        Kind::Json,
    ]
}

#[test]
fn every_kind_reads_what_people_type() {
    let cases = [
        (Kind::Money { currency: "GBP".into() }, "£1,240.50", Ok(r#"{"number":"1240.50"}"#)),
        (Kind::Money { currency: "GBP".into() }, "-£3", Ok(r#"{"number":"-3"}"#)),
        (Kind::Money { currency: "GBP".into() }, "1.005", Err(FaultKind::WrongKind)),
        (Kind::Money { currency: "JPY".into() }, "1200 JPY", Ok(r#"{"number":"1200"}"#)),
        (Kind::Money { currency: "JPY".into() }, "12.5", Err(FaultKind::WrongKind)),
        (Kind::Percent { decimals: 0 }, "12.5 %", Ok(r#"{"number":"0.125"}"#)),
        (Kind::Rating { most: 5 }, "4 of 5", Ok(r#"{"number":"4"}"#)),
        (Kind::YesNo, "Yes", Ok(r#"{"logical":true}"#)),
        (Kind::YesNo, "perhaps", Err(FaultKind::WrongKind)),
        (Kind::Range, "18/11/2026 to 2 Dec 2026", Ok(r#"{"range":["2026-11-18","2026-12-02"]}"#)),
        (Kind::Range, "2 Dec 2026 – 18 Nov 2026", Err(FaultKind::WrongKind)),
        (Kind::Duration, "1:30", Ok(r#"{"number":"5400"}"#)),
        (Kind::Duration, "1 h 30 min", Ok(r#"{"number":"5400"}"#)),
        (Kind::Duration, "2.5h", Ok(r#"{"number":"9000.0"}"#)),
        (Kind::Duration, "90", Ok(r#"{"number":"5400"}"#)),
        (Kind::Duration, "a while", Err(FaultKind::WrongKind)),
        (Kind::Choices { options: severity().options().to_vec() }, "blocked; dangerous", Ok(r#"{"choices":[7,8]}"#)),
        (Kind::Choices { options: severity().options().to_vec() }, "blocked, open", Err(FaultKind::UnknownOption)),
        (Kind::People, "tamsin oake", Ok(r#"{"people":[1]}"#)),
        (Kind::People, "Idris Pell", Err(FaultKind::WrongKind)),
        (Kind::Phone, "01632 960123", Ok(r#"{"text":"+441632960123"}"#)),
        (Kind::Phone, "+44 7700 900123", Ok(r#"{"text":"+447700900123"}"#)),
        (Kind::Phone, "call me", Err(FaultKind::WrongKind)),
        (Kind::Web, "Our map https://maps.example/a", Ok(r#"{"web":{"address":"https://maps.example/a","title":"Our map"}}"#)),
        (Kind::Web, "javascript:alert(1)", Err(FaultKind::WrongKind)),
        (Kind::Place, "Old gate (54.1, -2.4)", Ok(r#"{"place":{"label":"Old gate","latitude":"54.1","longitude":"-2.4"}}"#)),
        (Kind::Place, "154.1, -2.4", Err(FaultKind::WrongKind)),
        (Kind::Checklist, "[x] look\n[ ] mend", Ok(r#"{"checklist":[{"text":"look","done":true},{"text":"mend","done":false}]}"#)),
        (Kind::Json, "{\"a\": [1]}", Ok(r#"{"json":{"a":[1]}}"#)),
        (Kind::Json, "{a}", Err(FaultKind::WrongKind)),
        (Kind::DateTime, "18 Nov 2026 3:40 pm", Ok(r#"{"instant":"2026-11-18T15:40:00Z"}"#)),
        (Kind::DateTime, "18 Nov 2026 12:05 am", Ok(r#"{"instant":"2026-11-18T00:05:00Z"}"#)),
        (Kind::DateTime, "18 Nov 2026 13:05 pm", Err(FaultKind::WrongKind)),
    ];
    for (kind, typed, expected) in cases {
        check(&kind, typed, expected);
    }
}

#[test]
fn money_has_its_currencys_sign_and_decimals() {
    let text = |amount: &str, currency: &str| Customs::default().money_text(amount.parse().unwrap(), currency);
    assert_eq!(text("1234.5", "GBP"), "£1,234.50");
    assert_eq!(text("-0.125", "GBP"), "\u{2212}£0.13");
    assert_eq!(text("1200", "JPY"), "¥1,200");
    assert_eq!(duration_text("5400".parse().unwrap()), "1\u{a0}h 30\u{a0}min");
    assert_eq!(duration_text("-90061".parse().unwrap()), "\u{2212}1\u{a0}d 1\u{a0}h 1\u{a0}min 1\u{a0}s");
    assert_eq!(phone_text("+441632960123", Country::default()), "01632 960123");
}

/// Which kinds become which: rows from, columns to, in the order of [`kinds`].
#[test]
fn every_kind_says_which_others_it_converts_to() {
    let sign = |from: &Kind, to: &Kind| match from.converts_to(to) {
        Conversion::Never => '.',
        Conversion::Perhaps => '?',
        Conversion::Always => '+',
    };
    let row = |from: &Kind| format!("{:16} {}", from.name(), kinds().iter().map(|to| sign(from, to)).collect::<String>());
    let table: Vec<String> = kinds().iter().chain([&link()]).map(row).collect();
    insta::assert_snapshot!(table.join("\n"));
}

#[test]
fn a_value_becomes_what_its_text_would_be_read_as() {
    let (people, clock) = (people(), clock());
    let with = Conventions { locale: Locale::default(), people: &people, clock: &clock };
    let becomes = |cell: Cell<'_>, text: &str, from: &Kind, to: &Kind| convert(cell, text, from, to, with).map_err(|fault| fault.kind);
    let text = Kind::Text { limit: 100 };
    assert_eq!(becomes(Cell::Text("12.5 km"), "12.5 km", &text, &number()), Ok(Value::Number("12.5".parse().unwrap())));
    assert_eq!(becomes(Cell::Text("twelve"), "twelve", &text, &number()), Err(FaultKind::WrongKind));
    assert_eq!(becomes(Cell::Text("Blocked"), "Blocked", &text, &severity()), Ok(Value::Choice(crate::id::OptionId::new(7).unwrap())));
    let midnight = Value::Instant("2026-07-01T23:00:00Z".parse().unwrap());
    let day: jiff::civil::Date = "2026-07-02".parse().unwrap();
    assert_eq!(becomes(Cell::Date(day), "2 Jul 2026", &Kind::Date, &Kind::DateTime), Ok(midnight.clone()));
    assert_eq!(becomes(midnight.as_cell(), "", &Kind::DateTime, &Kind::Date), Ok(Value::Date(day)));
    assert_eq!(becomes(Cell::Logical(true), "yes", &Kind::YesNo, &Kind::Place), Err(FaultKind::WrongKind));
}

proptest! {
    /// Whatever is typed into any kind is a value or a fault.
    #[test]
    fn nothing_that_is_typed_breaks_any_kind(typed in "\\PC{0,40}") {
        for kind in kinds() {
            let _ = parse(&typed, &kind, Locale::default(), &people(), &clock());
        }
    }
}

#[test]
fn numbers_money_and_days_are_written_as_each_is_used_to() {
    let amount: rust_decimal::Decimal = "-1234567.5".parse().unwrap();
    let day = jiff::civil::date(2026, 9, 8);
    let written = Customs::ALL.map(|by| {
        let words = [by.number_text(amount, 0, "km"), by.money_text(amount, "EUR"), by.date_text(day), by.day_of_year(day)];
        words.join(" | ").replace(['\u{a0}', '\u{202f}'], "_")
    });
    insta::assert_snapshot!(written.join("\n"), @r"
    −1,234,567.5_km | −€1,234,567.50 | 8 Sep 2026 | 8 Sep
    −1,234,567.5_km | −€1,234,567.50 | Sep 8, 2026 | Sep 8
    −1.234.567,5_km | −1.234.567,50_€ | 08.09.2026 | 08.09.
    −1’234’567.5_km | −€_1’234’567.50 | 08.09.2026 | 08.09.
    −1_234_567,5_km | −1_234_567,50_€ | 08/09/2026 | 08/09
    −1.234.567,5_km | −€_1.234.567,50 | 08-09-2026 | 08-09
    −1_234_567,5_km | −1_234_567,50_€ | 2026-09-08 | 08/09
    ");
}
