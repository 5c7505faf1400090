//! Shared pages in each of the shapes in which they show records.

use crate::{
    fixture::*,
    pages::{CLERK, filled, page, put, records_of, visit, wrong},
};
use jiff::civil::date;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    condition::{Check, Condition},
    dataset::Dataset,
    fault::FaultKind,
    figure::Figure,
    id::FieldId,
    intent::{Intent, TableChange},
    page::{Page, PageAsking, PageCrossAsking, PageDaysAsking, PageGroup, PagePart, PageRow, PageRows, PageShape},
    schema::{Arrangement, PlacedField, Section},
    view::{Almanac, AlmanacDate, Bucket, Cards, CrossTab, GroupBy, Lanes, Query, Shape, ShownField, Tally},
};

/// The demo with its page in another shape, and with these fields shown.
fn shaped(fields: &[&str], change: impl FnOnce(&Dataset, &mut Query)) -> Dataset {
    let mut ds = demo();
    let shown: Vec<ShownField> = fields.iter().map(|name| ShownField { field: of(&ds, name), width: 100 }).collect();
    let before = ds.clone();
    put(&mut ds, |page| {
        let records = records_of(page);
        records
            .query
            .fields
            .extend(shown.into_iter().filter(|new| records.query.fields.iter().all(|one| one.field != new.field)).collect::<Vec<_>>());
        change(&before, &mut records.query);
    })
    .unwrap();
    ds
}

fn of(ds: &Dataset, name: &str) -> FieldId {
    field(ds, &format!("Faults.{name}"))
}

fn rows(ds: &Dataset, count: usize) -> PageRows {
    visit(ds, Some(CLERK), |visitor| visitor.rows(1, &PageAsking { count, ..PageAsking::default() })).unwrap()
}

/// The place of a field among the cells.
fn place(ds: &Dataset, name: &str) -> usize {
    let field = of(ds, name);
    page(ds).records().next().unwrap().query.fields.iter().position(|shown| shown.field == field).unwrap()
}

fn text(row: &PageRow, place: usize) -> &str {
    row.cells[place].as_ref().map_or("", |cell| &cell.text)
}

/// The heads over an innermost group, it and theirs, the group and the records told of it.
type Leaf<'a> = (Vec<&'a str>, &'a PageGroup, &'a [PageRow]);

/// Each innermost group. `rows`: the records not yet dealt out.
fn leaves<'a>(groups: &'a [PageGroup], rows: &mut &'a [PageRow], over: &[&'a str]) -> Vec<Leaf<'a>> {
    let mut all = Vec::new();
    for group in groups {
        let heads: Vec<&str> = over.iter().copied().chain([group.text.as_str()]).collect();
        if group.within.is_empty() {
            let (here, further) = rows.split_at(group.shown);
            *rows = further;
            all.push((heads, group, here));
        } else {
            all.extend(leaves(&group.within, rows, &heads));
        }
    }
    all
}

#[test]
fn lanes_hold_so_many_of_each_with_their_figures_and_say_what_is_offered_alone() {
    let ds = shaped(&["Hours needed"], |ds, query| {
        query.shape = Shape::Lanes(Lanes::by(of(ds, "Status")));
        query.tallies = vec![Tally { field: of(ds, "Hours needed"), figure: Figure::Sum }];
        query.sorts.clear();
    });
    let front = visit(&ds, Some(CLERK), |visitor| visitor.front());
    let part = front
        .parts
        .iter()
        .find_map(|part| if let westerfall_core::page::PagePart::Records(part) = part { Some(part) } else { None })
        .unwrap();
    assert_eq!(
        (&part.shape, part.figures.as_slice()),
        (&PageShape::Lanes { by: of(&ds, "Status") }, &["the sum of hours needed".to_owned()][..])
    );
    let (told, status) = (rows(&ds, 1), place(&ds, "Status"));
    assert_eq!(told.groups.iter().map(|lane| lane.count).sum::<usize>(), told.matching);
    assert!(told.groups.iter().any(|lane| lane.count > 1));
    assert!(told.groups.iter().all(|lane| lane.hue.is_some() && !["made good", "no action"].contains(&lane.text.as_str())));
    let narrowed = PageAsking { condition: test(&[of(&ds, "What is wrong")], Check::Empty), count: 9, ..PageAsking::default() };
    let none = visit(&ds, Some(CLERK), |visitor| visitor.rows(1, &narrowed)).unwrap();
    assert_eq!((none.matching, none.groups.len()), (0, told.groups.len()), "what could be here is told, empty");
    let mut left = told.rows.as_slice();
    for (heads, lane, here) in leaves(&told.groups, &mut left, &[]) {
        assert_eq!(here.len(), lane.count.min(1));
        assert!(here.iter().all(|row| text(row, status) == heads[0]));
        assert_eq!(lane.figures.len(), 1);
    }
    assert!(left.is_empty());
    assert_eq!(told.figures.len(), 1);
}

#[test]
fn nobody_outside_is_told_by_empty_lanes_who_works_here_or_what_else_there_is() {
    let mut ds = filled();
    let (asked, section) = (of(&ds, "Asked"), of(&ds, "Section"));
    for by in [asked, section] {
        put(&mut ds, |page| {
            records_of(page).query.shape = Shape::Lanes(Lanes::by(by));
        })
        .unwrap();
        let told = rows(&ds, 60);
        assert!(told.groups.iter().all(|lane| lane.count > 0), "{:?}", told.groups);
        let said: BTreeSet<&str> = told.groups.iter().map(|lane| lane.text.as_str()).collect();
        if by == asked {
            assert_eq!(said, BTreeSet::from(["no asked"]));
        } else {
            let place = place(&ds, "Section");
            assert_eq!(said, told.rows.iter().map(|row| text(row, place)).collect(), "a link that is shown is named");
        }
    }
    // Nor by a cross-tab.
    put(&mut ds, |page| records_of(page).query.shape = Shape::CrossTab(CrossTab::by(GroupBy::of(section)))).unwrap();
    let crossed = visit(&ds, Some(CLERK), |visitor| visitor.crossed(1, &PageCrossAsking::default())).unwrap();
    assert!(crossed.rows.len() > 2 && crossed.cells.iter().all(|cells| cells[0].is_some()), "{:?}", crossed.rows);
    assert!(crossed.rows.iter().all(|head| !head.text.is_empty()));
}

#[test]
fn marks_stand_on_the_days_of_the_records_that_are_seen() {
    let ds = shaped(&[], |ds, query| query.shape = Shape::Calendar(Almanac::by(vec![AlmanacDate::of(of(ds, "Due"))])));
    let all = rows(&ds, 200);
    assert_eq!((all.rows.len(), all.groups.len()), (0, 0), "a calendar has days");
    let asking = |from, to| PageDaysAsking { condition: Condition::default(), from, to };
    let days = |asking: &PageDaysAsking| visit(&ds, Some(CLERK), |visitor| visitor.days(1, asking));
    let told = days(&asking(date(2026, 1, 1), date(2026, 12, 31))).unwrap();
    let marked: BTreeSet<_> = told.marks.iter().map(|mark| mark.record).collect();
    assert_eq!(marked, told.rows.iter().map(|row| row.id).collect());
    assert!(!marked.is_empty() && marked.len() + told.waiting.len() <= all.total);
    let due = place(&ds, "Due");
    for mark in &told.marks {
        let row = told.rows.iter().find(|row| row.id == mark.record).unwrap();
        assert!(text(row, due).starts_with(&mark.start.day().to_string()), "{} on {}", text(row, due), mark.start);
        assert_eq!(mark.start, mark.end);
    }
    assert!(days(&asking(date(2026, 1, 1), date(2025, 1, 1))).is_err());
    assert_eq!(days(&asking(date(1, 1, 1), date(9999, 12, 31))).unwrap_err().0[0].kind, FaultKind::TooLong);
    let hidden =
        PageDaysAsking { condition: test(&[of(&ds, "Reporter’s mail")], Check::Filled), ..asking(date(2026, 1, 1), date(2026, 2, 1)) };
    assert!(days(&hidden).is_err());
    assert_eq!(
        visit(&ds, Some(CLERK), |visitor| visitor.crossed(1, &PageCrossAsking::default())).unwrap_err().0[0].kind,
        FaultKind::NotFound
    );
}

#[test]
fn a_cross_tab_counts_what_is_seen_and_leads_with_what_it_says() {
    let ds = shaped(&["Hours needed", "Reported on"], |ds, query| {
        let month = GroupBy { by: Bucket::Month, ..GroupBy::of(of(ds, "Reported on")) };
        query.shape = Shape::CrossTab(CrossTab { across: vec![month], ..CrossTab::by(GroupBy::of(of(ds, "Status"))) });
        query.tallies = vec![Tally { field: of(ds, "Hours needed"), figure: Figure::Sum }];
    });
    let crossed = |condition| visit(&ds, Some(CLERK), |visitor| visitor.crossed(1, &PageCrossAsking { condition })).unwrap();
    let told = crossed(Condition::default());
    let count = |row: usize, column: usize| told.cells[row][column].as_ref().map_or(0, |cell| cell.text.parse::<usize>().unwrap());
    assert_eq!(count(0, 0), rows(&ds, 1).total);
    assert_eq!((1..told.rows.len()).map(|row| count(row, 0)).sum::<usize>(), count(0, 0));
    let all = told.cells[0][0].as_ref().unwrap();
    assert!(all.also[0].ends_with("\u{a0}h") && all.length.is_none(), "{:?}", all.also);
    let lengths: Vec<_> = told.cells.iter().skip(1).flat_map(|cells| &cells[1..]).flatten().filter_map(|cell| cell.length).collect();
    assert!(lengths.iter().all(|length| *length > 0.into() && *length <= 1.into()) && lengths.contains(&1.into()), "{lengths:?}");
    let none = crossed(test(&[of(&ds, "What is wrong")], Check::Empty));
    assert!(none.cells.iter().flatten().flatten().all(|cell| cell.text == "0"));
}

#[test]
fn what_is_not_shown_is_told_by_no_group_figure_or_shape() {
    let hours = |ds: &Dataset| of(ds, "Hours needed");
    let ds = demo();
    assert_eq!(
        wrong(|page| {
            let query = &mut records_of(page).query;
            query.groups = vec![GroupBy::of(of(&ds, "Severity"))];
            query.tallies = vec![Tally { field: hours(&ds), figure: Figure::Sum }];
            query.shape = Shape::Cards(Cards { picture: Some(of(&ds, "Pictures")), ..Cards::default() });
        }),
        [
            "The groups tell of severity, which is not shown. Show it, or take that out.",
            "A figure tells of hours needed, which is not shown. Show it, or take that out.",
            "The shape tells of pictures, which is not shown. Show it, or take that out.",
        ]
    );
}

/// Who is bound by the hour, and what lies beneath, is for those who work here.
#[test]
fn a_calendar_on_a_page_has_its_days_alone() {
    let ds = demo();
    let view = ds.views().find(|view| matches!(&view.query.shape, Shape::Calendar(almanac) if almanac.who.is_some())).unwrap();
    let Shape::Calendar(almanac) = &view.query.shape else { unreachable!("it is a calendar") };
    let begun = Page::begun(&ds, page(&ds).id, "Shared", Some(view), "shared-words", None);
    let query = &begun.records().next().unwrap().query;
    assert_eq!(query.shape, Shape::Calendar(Almanac::by(almanac.dates.clone())));
    let days: Vec<FieldId> = almanac.dates.iter().flat_map(|date| [Some(date.start), date.end]).flatten().collect();
    let also = query.fields.iter().filter(|new| view.query.fields.iter().all(|one| one.field != new.field));
    assert!(also.map(|new| new.field).all(|field| days.contains(&field)));
}

#[test]
fn a_record_of_a_page_is_laid_out_as_it_was_arranged_of_what_is_shown_and_without_what_does_not_stand_there() {
    let mut ds = shaped(&["Severity", "Hours needed"], |_, _| {});
    let shown: Vec<FieldId> = page(&ds).records().next().unwrap().query.fields.iter().map(|one| one.field).collect();
    let home = table(&ds, "Faults");
    let severe = option(&ds, "Faults.Severity.dangerous");
    let placed = |names: &[&str]| names.iter().map(|name| PlacedField { field: of(&ds, name), wide: false }).collect::<Vec<_>>();
    let sections = vec![
        Section { heading: "How bad".into(), fields: placed(&["Severity", "Reporter"]), two: true, ..Section::default() },
        Section { heading: "Who reported".into(), fields: placed(&["Reporter’s mail"]), ..Section::default() },
        Section {
            heading: "What it takes".into(),
            fields: placed(&["Hours needed"]),
            closed: true,
            when: test(&[of(&ds, "Severity")], Check::Option { not: false, any: vec![severe] }),
            ..Section::default()
        },
    ];
    let nadia = asker(&ds, "Nadia");
    let arrangement = Arrangement { sections, away: vec![of(&ds, "Status")], ..Arrangement::default() };
    act(&mut ds, nadia, &Intent::Table(TableChange::Arrange { table: home, arrangement })).unwrap();
    let front = visit(&ds, Some(CLERK), |visitor| visitor.front());
    let Some(PagePart::Records(part)) = front.parts.iter().find(|part| matches!(part, PagePart::Records(_))) else { panic!("records") };
    let told: Vec<(&str, Vec<FieldId>)> =
        part.sections.iter().map(|section| (section.heading.as_str(), section.fields.iter().map(|one| one.field).collect())).collect();
    // What names it first; of a section what is shown, and of what is shown nothing is left out.
    assert_eq!(told[0].0, "");
    assert!(told[0].1.contains(&of(&ds, "What is wrong")), "{told:?}");
    assert_eq!(told[1], ("How bad", vec![of(&ds, "Severity")]));
    assert_eq!(told[2], ("What it takes", vec![of(&ds, "Hours needed")]));
    assert_eq!((part.sections[1].two, part.sections[2].closed), (true, true));
    let all: BTreeSet<FieldId> = told.iter().flat_map(|(_, fields)| fields.iter().copied()).collect();
    assert_eq!((all.len(), all), (told.iter().map(|(_, fields)| fields.len()).sum(), shown.iter().copied().collect()));
    // A record has the section for which its condition holds.
    let (rows, severity) = (rows(&ds, 400), place(&ds, "Severity"));
    assert!(rows.rows.iter().any(|row| row.without.is_empty()) && rows.rows.iter().any(|row| !row.without.is_empty()));
    for row in &rows.rows {
        let expected: &[usize] = if text(row, severity) == "dangerous" { &[] } else { &[2] };
        assert_eq!(row.without, expected, "{}", text(row, severity));
    }
}

#[test]
fn every_view_of_the_team_begins_a_page_in_its_own_shape() {
    let ds = demo();
    let mut shapes = BTreeSet::new();
    for view in ds.views().filter(|view| view.owner.is_none()) {
        let begun = Page::begun(&ds, page(&ds).id, "Shared", Some(view), "shared-words", None);
        let query = &begun.records().next().unwrap().query;
        assert_eq!((&query.shape, begun.check(&ds)), (&view.query.shape.outside(), Ok(())), "{}", view.name);
        shapes.insert(match query.shape {
            Shape::Rows(_) => "rows",
            Shape::Lanes(_) => "lanes",
            Shape::Calendar(_) => "calendar",
            Shape::Cards(_) => "cards",
            Shape::CrossTab(_) => "cross-tab",
        });
    }
    assert_eq!(shapes, BTreeSet::from(["calendar", "cards", "cross-tab", "lanes", "rows"]));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, ..ProptestConfig::default() })]

    /// In whatever groups and lanes: each record that is told stands under heads that say what stands in it, none is told twice, all
    /// are counted, and the records are those that are told without groups.
    #[test]
    fn heads_say_what_stands_in_the_records_under_them(
        names in prop::sample::subsequence(vec!["Section", "Status", "Due", "Parish can help", "Severity", "Kind"], 1..=3).prop_shuffle(),
        lanes in any::<bool>(),
        empty in any::<bool>(),
        count in 0_usize..40,
    ) {
        let by_lane = lanes && names[0] != "Due";
        let ds = shaped(&names, |ds, query| {
            query.groups = names.iter().skip(usize::from(by_lane)).map(|name| GroupBy { empty, ..GroupBy::of(of(ds, name)) }).collect();
            query.sorts.clear();
            if by_lane {
                query.groups.truncate(1);
                query.shape = Shape::Lanes(Lanes::by(of(ds, names[0])));
            }
        });
        let levels = if by_lane { names.len().min(2) } else { names.len() };
        let places: Vec<usize> = names.iter().take(levels).map(|name| place(&ds, name)).collect();
        let told = rows(&ds, count);
        let (mut left, mut counted, mut wrong) = (told.rows.as_slice(), 0, Vec::new());
        for (heads, group, here) in leaves(&told.groups, &mut left, &[]) {
            counted += group.count;
            for row in here {
                for (head, place) in heads.iter().zip(&places) {
                    let stands = text(row, *place);
                    if *head != stands && !(stands.is_empty() && head.starts_with("no ")) {
                        wrong.push(format!("{stands} under {head}"));
                    }
                }
            }
        }
        prop_assert_eq!((counted, left.len()), (told.matching, 0));
        prop_assert!(wrong.is_empty(), "{:?}", wrong);
        let all: BTreeSet<_> = rows(&demo(), 200).rows.iter().map(|row| row.id).collect();
        let seen: BTreeSet<_> = told.rows.iter().map(|row| row.id).collect();
        prop_assert!(seen.is_subset(&all) && seen.len() == told.rows.len());
    }
}
