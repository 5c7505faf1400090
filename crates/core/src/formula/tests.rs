use super::{functions, *};
use crate::id::TableId;
use crate::{
    Clock,
    dataset::{Dataset, fitted},
    people::People,
    schema::{Kind, TrackerDef},
    value::{Locale, Value},
};
use jiff::tz::TimeZone;

fn clock() -> Clock {
    Clock::new("2026-11-23T09:30:40Z".parse().unwrap(), TimeZone::get("Europe/London").unwrap())
}

fn nothing() -> Dataset {
    let tracker = TrackerDef {
        name: "Nothing".into(),
        description: String::new(),
        zone: "Europe/London".into(),
        locale: Locale::default(),
        icon: String::new(),
        hue: None,
        stage: Default::default(),
    };
    Dataset::empty(tracker, Arc::new(People::default()))
}

/// What a formula without fields gives, as text; or its first fault.
fn result(formula: &str) -> String {
    let ds = nothing();
    let clock = clock();
    let table = TableId::new(1).unwrap();
    let reading = Formula::read(formula, &ds, table);
    if let Some(fault) = reading.faults.first() {
        return format!("fault: {}", fault.message);
    }
    let budget = Budget::new(1);
    let value = Program::new(&reading.formula, &ds, table, &clock, &budget).value(0);
    match value {
        Value::Logical(yes) => if yes { "TRUE" } else { "FALSE" }.to_owned(),
        value => match fitted(value, &Kind::Text { limit: 100_000 }, &clock) {
            Value::Text(text) => text.to_string(),
            Value::Error(error) => error.sign().to_owned(),
            _ => String::new(),
        },
    }
}

#[track_caller]
fn check(formula: &str, expected: &str) {
    assert_eq!(result(formula), expected, "{formula}");
}

#[test]
fn every_function_does_what_its_example_says() {
    for function in functions::all() {
        let (formula, gives) = function.example;
        check(formula, gives);
    }
}

#[test]
fn operators_bind_as_openformula_says() {
    check("2 + 3 * 4", "14");
    check("(2 + 3) * 4", "20");
    check("-2 ^ 2", "4");
    check("2 ^ 3 ^ 2", "64");
    check("2 ^ -1", "0.5");
    check("200 * 5%", "10");
    check("-50%", "-0.5");
    check("10 - 4 - 3", "3");
    check("1 & 2 + 3", "15");
    check("1 + 2 = 3", "TRUE");
    check("1 < 2 & \"a\"", "fault: a number is compared with a text: they can never be the same");
    check("\"a\" & \"b\" = \"ab\"", "TRUE");
    check("\"Zoë\" = \"ZOE\"", "TRUE");
    check("1 <= 1", "TRUE");
    check("1 ≠ 2", "TRUE");
}

#[test]
fn decimals_are_exact() {
    check("0.1 + 0.2", "0.3");
    check("0.1 + 0.2 = 0.3", "TRUE");
    check("1 / 3 * 3", "1");
    check("1 / 3 * 3 = 1", "TRUE");
    check("SUM(0.1, 0.1, 0.1) - 0.3", "0");
    check("1 / 0", "#DIV/0!");
    check("10 ^ 30", "#NUM!");
    check("(-8) ^ 0.5", "#NUM!");
    check("SQRT(-1)", "#NUM!");
    check("ROUND(2.5, 0) & ROUND(-2.5, 0)", "3-3");
    check("ROUND(1234, -2)", "1200");
    check("1E3 + 1.5e-1", "1000.15");
}

#[test]
fn numbers_are_rounded_and_divided_as_openformula_says() {
    check("CEILING(-4.5, -2)", "-4");
    check("CEILING(-4.5, -2, 1)", "-6");
    check("FLOOR(-4.5, -2)", "-6");
    check("FLOOR(-4.5, -2, 1)", "-4");
    check("CEILING(4.5, -2)", "#NUM!");
    check("EVEN(-1.5) & EVEN(0) & ODD(0) & ODD(-1.5)", "-201-3");
    check("MOD(7, -3)", "-2");
    check("MOD(1, 0)", "#DIV/0!");
    check("FACT(28)", "#NUM!");
    check("GCD(0, 5) & LCM(0, 5)", "50");
    check("MROUND(-7.5, -5)", "-10");
    check("0 ^ 0", "1");
    check("QUOTIENT(7, 0)", "#DIV/0!");
}

#[test]
fn lists_of_nothing_give_what_openformula_says() {
    check("SUM(\"a\")", "fault: SUM needs numbers, but “\"a\"” is a text");
    check("AVERAGE(IF(FALSE, 1, NA()))", "#N/A");
    check("MEDIAN(1, 2, 3, 4)", "2.5");
    check("MODE(1, 2)", "#N/A");
    check("STDEV(1)", "#DIV/0!");
    check("LARGE(UNIQUE(3, 9, 5), 2) & SMALL(UNIQUE(3, 9, 5), 4)", "#NUM!");
    check("PRODUCT(2, 3) & SUMSQ(1, 2)", "65");
}

#[test]
fn texts_are_counted_in_characters_as_people_see_them() {
    check("LEN(\"e\u{301}a\")", "2");
    check("LEFT(\"👩‍🌾 field\", 1)", "👩‍🌾");
    check("MID(\"abc\", 0, 1)", "#VALUE!");
    check("MID(\"abc\", 5, 1)", "");
    check("FIND(\"x\", \"abc\")", "#VALUE!");
    check("SEARCH(\"É\", \"cafe\")", "4");
    check("REPT(\"ab\", 1000000)", "#LIMIT!");
    check("REPLACE(\"abc\", 2, 0, \"x\")", "axbc");
    check("TEXT(0.125, \"0.0%\")", "12.5%");
    check("TEXT(-5, \"000\")", "-005");
    check("TEXT(DATE(2026, 3, 4), \"dddd d mmmm yyyy\")", "Wednesday 4 March 2026");
    check("TEXT(TIME(9, 5, 0), \"h:mm\")", "9:05");
    check("\"say \"\"hello\"\"\"", "say \"hello\"");
}

#[test]
fn dates_are_counted_as_openformula_says() {
    check("DATE(2026, 3, 1) - DATE(2026, 2, 1)", "28");
    check("DATE(2024, 2, 29) + 365", "28 Feb 2025");
    check("EDATE(DATE(2024, 2, 29), 12)", "28 Feb 2025");
    check("EOMONTH(DATE(2024, 1, 31), 1)", "29 Feb 2024");
    check("DATEDIF(DATE(2024, 2, 29), DATE(2025, 2, 28), \"y\")", "0");
    check("DATEDIF(DATE(2026, 2, 1), DATE(2026, 1, 1), \"d\")", "#NUM!");
    check("DATEDIF(DATE(2025, 12, 20), DATE(2026, 2, 3), \"md\")", "14");
    check("DAYS360(DATE(2024, 2, 29), DATE(2025, 2, 28), TRUE)", "359");
    check("YEARFRAC(DATE(2024, 1, 1), DATE(2025, 1, 1), 1)", "1");
    check("ROUND(YEARFRAC(DATE(2026, 1, 1), DATE(2026, 3, 2), 3), 4)", "0.1644");
    check("WEEKNUM(DATE(2027, 1, 3), 21) & ISOWEEKNUM(DATE(2027, 1, 4))", "531");
    check("WEEKDAY(DATE(2026, 11, 22))", "1");
    check("NETWORKDAYS(DATE(2026, 11, 22), DATE(2026, 11, 16))", "-5");
    check("NETWORKDAYS(DATE(2026, 12, 21), DATE(2026, 12, 31), DATE(2026, 12, 25))", "8");
    check("WORKDAY(DATE(2026, 12, 24), 1, DATE(2026, 12, 25))", "28 Dec 2026");
    check("WORKDAY(DATE(2026, 11, 23), -1)", "20 Nov 2026");
    check("TODAY()", "23 Nov 2026");
    check("NOW()", "23 Nov 2026, 09:30");
    check("DATEVALUE(\"soon\")", "#VALUE!");
    check("YEAR(46000)", "2025");
    check("DATE(2026, 11, 23) = TODAY()", "TRUE");
}

#[test]
fn errors_spread_and_are_caught() {
    check("1 + NA()", "#N/A");
    check("IF(1 / 0, 1, 2)", "#DIV/0!");
    check("IF(TRUE, 1, 1 / 0)", "1");
    check("IFERROR(1 + NA(), 7)", "7");
    check("IFNA(1 / 0, 7)", "#DIV/0!");
    check("IFS(FALSE, 1)", "#N/A");
    check("CHOOSE(3, 1, 2)", "#VALUE!");
    check("SWITCH(9, 1, \"a\")", "#N/A");
    check("SWITCH(9, 1, \"a\", \"z\")", "z");
    check("ISERROR(REPT(\"ab\", 1000000))", "#LIMIT!");
    check("AND(TRUE, 1, 2 > 3) & NOT(0)", "FALSETRUE");
    check("N(\"a\") + N(TRUE)", "1");
}

#[test]
fn a_long_sum_is_no_deep_one() {
    for (sign, expected) in [("+", "1000"), ("-", "-998"), ("&", &*"1".repeat(1_000))] {
        let long = vec!["1"; 1_000].join(sign);
        check(&long, expected);
    }
    let most = vec!["1"; 4_000].join("+");
    check(&most, "4000");
    check("1 - (2 - 3) - 4", "-2");
    check("(1 - 2) - 3", "-4");
    check("1 & 2 + 3 & 4 - 5", "15-1");
    check("DATE(2026, 3, 1) - DATE(2026, 2, 1) + 1 - 2", "27");
    assert!(result(&format!("{}1{}", "1 + (".repeat(45), ")".repeat(45))).parse::<u32>().is_ok());
}

#[test]
fn what_takes_long_is_cut_off() {
    // Each of these is short, and would go through millions of characters or days.
    let text = "REPT(\"abcdefghij\", 4000)";
    let many = format!("LEN({})", vec![format!("SUBSTITUTE({text}, \"a\", \"bc\")"); 8].join(" & "));
    assert_eq!(result(&many), "#LIMIT!");
    let nested = (0..12).fold(text.to_owned(), |inner, _| format!("MID({inner}, 1, 40000)"));
    let over = vec![format!("LEN({nested})"); 20].join(" + ");
    assert_eq!(result(&over), "#LIMIT!");
    let days = (0..25).fold("TODAY()".to_owned(), |inner, _| format!("WORKDAY({inner}, 99999)"));
    assert!(matches!(&*result(&days), "#LIMIT!" | "#NUM!"), "{}", result(&days));
}

#[test]
fn formulas_over_their_limits_are_refused_in_words() {
    let deep = format!("{}1{}", "(".repeat(5_000 / 2), ")".repeat(5_000 / 2));
    assert!(result(&deep).contains("nested too deep"), "{}", result(&deep));
    let long = vec!["2"; 500].join("*");
    assert!(result(&long).contains("nested too deep"), "{}", result(&long));
    assert!(result(&"-".repeat(3_000)).contains("too many signs"), "{}", result(&"-".repeat(3_000)));
    assert!(result(&"1".repeat(9_000)).contains("too long"));
}
