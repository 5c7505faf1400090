//! What is said beforehand of what a single edit or a press would set going, and at which fields it is worth asking.

use crate::{fixture::*, world::*};
use proptest::prelude::*;
use westerfall_core::{
    access::Asker,
    automation::{Automation, Occasion, Told},
    condition::{Check, Condition, Who},
    id::{AutomationId, FieldId, OptionId},
    intent::{Edit, Intent},
    pace::AtMost,
    part::Part,
    value::{Input, Value},
};

fn edit(world: &World, path: &str, row: u32, value: Value) -> Intent {
    let table = world.at(path.split_once('.').unwrap().0);
    Intent::Edit { table, record: record(row), edits: vec![Edit { field: world.f(path), input: Input::Value(value), was: None }] }
}

fn says(world: &World, intent: &Intent, told: Told) -> Vec<String> {
    world.ds.follows(intent, told, world.nadia(), &world.clock, &()).unwrap()
}

fn change(world: &mut World, id: AutomationId, with: impl FnOnce(&mut Automation)) {
    let mut automation = world.ds.automation(id).unwrap().clone();
    with(&mut automation);
    world.act(world.nadia(), &Intent::Save(Part::Automation(automation)));
}

/// Whoever is told of what is made good, and a note that hangs on whose section it is.
fn two(world: &mut World) -> (AutomationId, AutomationId) {
    let mail = world.mail("Faults", office(), "Done: {Number}", false);
    let status = Occasion::Changed(vec![world.f("Faults.Status")]);
    let good = world.is("Faults.Status", &["made good"]);
    let tells = world.automate("Faults", "Tell the office", status, good, vec![mail.clone()]);
    let Asker::Person(me) = world.nadia() else { unreachable!() };
    let mine = test(&[world.f("Faults.Warden")], Check::Person { not: false, any: vec![Who::Person(me)] });
    let hangs = world.automate("Faults", "Hers now", Occasion::Fits, mine, vec![mail]);
    (tells, hangs)
}

#[test]
fn what_is_not_said_beforehand_is_told_to_whoever_asks_for_it() {
    let mut world = World::new();
    let (tells, _) = two(&mut world);
    let other = world.option("Faults.Status.reported");
    world.put("Faults.Status", 1, other);
    let good = edit(&world, "Faults.Status", 1, world.option("Faults.Status.made good"));
    assert_eq!(says(&world, &good, Told::Unasked), ["1 mail goes to 1 address outside."]);
    let checked = edit(&world, "Faults.Status", 1, world.option("Faults.Status.checked"));
    assert!(says(&world, &checked, Told::Unasked).is_empty());

    change(&mut world, tells, |automation| automation.unsaid = true);
    assert!(says(&world, &good, Told::Unasked).is_empty());
    assert_eq!(says(&world, &good, Told::Asked), ["1 mail goes to 1 address outside."]);
    // It is no change of what it does: it goes on, with no draft.
    let now = world.ds.automation(tells).unwrap();
    assert!(now.on && now.draft.is_none());
    assert_eq!(runs(&world.act(world.nadia(), &good)).iter().filter(|run| !run.mails.is_empty()).count(), 1);
}

#[test]
fn what_would_take_long_is_said_to_be_much_and_is_not_worked_out() {
    let mut world = World::new();
    let (_, _) = two(&mut world);
    let other = world.option("Faults.Status.reported");
    world.put("Faults.Status", 1, other);
    let good = edit(&world, "Faults.Status", 1, world.option("Faults.Status.made good"));
    let says = |most: usize| world.ds.follows(&good, Told::Unasked, world.nadia(), &world.clock, &AtMost(most)).unwrap();
    assert_eq!(says(200), ["1 mail goes to 1 address outside."]);
    assert_eq!(says(0), ["More follows from it than can be said beforehand."]);
    assert!(world.ds.follows(&good, Told::Asked, world.nadia(), &world.clock, &AtMost(0)).unwrap().is_empty());
}

#[test]
fn a_field_sets_going_what_hears_it_or_what_is_computed_from_it_and_nothing_while_that_rests() {
    let mut world = World::new();
    let set = |world: &World| world.ds.sets_going();
    let demo = set(&world);
    let (tells, hangs) = two(&mut world);
    let (status, warden, section) = (world.f("Faults.Status"), world.f("Districts.Warden"), world.f("Faults.Section"));
    let back = world.f("Sections.Faults");
    let now = set(&world);
    for field in [status, warden, section, back, world.f("Sections.District")] {
        assert!(now.contains(&field), "{field} of {now:?}");
    }
    assert!(!now.contains(&world.f("Materials.Name")));
    change(&mut world, hangs, |automation| automation.unsaid = true);
    change(&mut world, tells, |automation| automation.on = false);
    assert_eq!(set(&world), demo);
}

#[test]
fn what_listens_to_any_field_is_set_going_by_each_that_is_filled_in() {
    let mut world = World::new();
    let mail = world.mail("Materials", office(), "Moved: {Name}", false);
    world.automate("Materials", "Tell", Occasion::Changed(Vec::new()), Condition::default(), vec![mail]);
    let now = world.ds.sets_going();
    let home = world.ds.table(world.at("Materials")).unwrap();
    let (heard, not): (Vec<_>, Vec<_>) = home.def.fields.iter().partition(|def| now.contains(&def.id));
    assert!(!heard.is_empty() && heard.iter().all(|def| def.kind.takes_input()));
    assert!(not.iter().all(|def| !def.kind.takes_input()), "{not:?}");
}

/// Edits of all sorts that may move something on which a condition over faults hangs.
fn any_edit() -> impl Strategy<Value = (&'static str, u32, Value)> {
    let ds = demo();
    let statuses: Vec<OptionId> = ["reported", "checked", "made good"].map(|name| option(&ds, &format!("Faults.Status.{name}"))).to_vec();
    let people: Vec<_> = ds.people.iter().map(|person| person.id).collect();
    let number = (0_i64..120).prop_map(|n| Value::Number(rust_decimal::Decimal::new(n, 1)));
    let name = "[a-z]{1,3}".prop_map(|text| Value::Text(text.into()));
    prop_oneof![
        prop::sample::select(statuses).prop_map(|option| ("Faults.Status", Value::Choice(option))),
        (1_u32..64).prop_map(|row| ("Faults.Section", Value::Links(vec![record(row)]))),
        name.clone().prop_map(|text| ("Faults.What is wrong", text)),
        number.clone().prop_map(|number| ("Faults.Hours needed", number)),
        (1_u32..6).prop_map(|row| ("Sections.District", Value::Links(vec![record(row)]))),
        name.clone().prop_map(|text| ("Sections.Name", text)),
        number.prop_map(|number| ("Sections.Length", number)),
        prop::sample::select(people).prop_map(|person| ("Districts.Warden", Value::Person(person))),
        name.prop_map(|text| ("Districts.Name", text)),
    ]
    .prop_flat_map(|(path, value)| (Just(path), 1_u32..6, Just(value)))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    /// Nothing follows from a field at which nobody would have asked.
    #[test]
    fn wherever_something_follows_it_is_asked(condition in any_condition(), edits in prop::collection::vec(any_edit(), 1..6)) {
        let mut world = World::new();
        prop_assume!(!condition.is_nothing() && condition.check(&world.ds, world.at("Faults")).is_ok());
        let mail = world.mail("Faults", office(), "So it is: {Number}", false);
        world.automate("Faults", "So it is", Occasion::Fits, condition, vec![mail]);
        let heard: std::collections::BTreeSet<FieldId> = world.ds.sets_going();
        for (path, row, value) in edits {
            let intent = edit(&world, path, row, value);
            let Ok(said) = world.ds.follows(&intent, Told::Unasked, world.nadia(), &world.clock, &()) else { continue };
            prop_assert!(said.is_empty() || heard.contains(&world.f(path)), "{path}: {said:?}");
            let _ = world.try_do(world.nadia(), &intent);
        }
    }
}
