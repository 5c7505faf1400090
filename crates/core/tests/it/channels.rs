//! By which way a message goes: what its readers chose, what its field holds, and what that says beforehand.

use crate::{fixture::*, world::*};
use std::sync::Arc;
use westerfall_core::{
    automation::{Message, Move, Occasion, Recipient, Step, Told},
    fault::FaultKind,
    id::PersonId,
    intent::{Edit, Intent},
    people::{Channel, Person},
    team::{Letter, Newcomer, OptOutWish, Team, TeamAsker, TeamIntent, TeamPart, Wanted},
    value::{Input, Value},
};

/// The demo's people, one of them reached otherwise.
fn reached_by(world: &mut World, name: &str, channel: Channel, phone: &str) -> PersonId {
    let id = person(&world.ds, name);
    let mut team = Team::default();
    for intent in westerfall_demo::beginning() {
        let change = team.decide(&intent, &TeamAsker::Westerfall, clock().now).unwrap();
        team.apply(&change);
    }
    let known = team.people().get(id).unwrap().clone();
    team.load_part(TeamPart::Person(Person { channel, phone: phone.into(), ..known }));
    world.ds = Arc::new(world.ds.with_people(team.people().clone()));
    id
}

fn warden(world: &World) -> Recipient {
    Recipient::Field(vec![world.f("Faults.Section"), world.f("Sections.District"), world.f("Districts.Warden")])
}

fn sent(moves: &[Move]) -> Vec<Message> {
    moves.iter().flat_map(|of| &of.runs).flat_map(|run| run.mails.clone()).collect()
}

fn told(moves: &[Move]) -> Vec<String> {
    moves.iter().flat_map(|of| &of.runs).flat_map(|run| &run.log).map(|line| line.text.clone()).collect()
}

/// Writes when a status becomes *checked*, and lets one of Eskermoor's faults become so.
fn written(world: &mut World, to: Recipient) -> Vec<Move> {
    let step = world.mail("Faults", to, "Look at {Number}", false);
    written_by(world, step)
}

fn written_by(world: &mut World, step: Step) -> Vec<Move> {
    let (when, condition) = (Occasion::Changed(vec![world.f("Faults.Status")]), world.is("Faults.Status", &["checked"]));
    world.automate("Faults", "Tell", when, condition, vec![step]);
    let checked = world.option("Faults.Status.checked");
    let other = world.option("Faults.Status.reported");
    world.put("Faults.Status", 1, other);
    world.put("Faults.Status", 1, checked)
}

/// Whoever is warden where the first fault lies.
fn first_warden(world: &World) -> String {
    let moves = written(&mut World { ds: world.ds.clone(), clock: world.clock.clone() }, warden(world));
    sent(&moves)[0].to_name.clone()
}

#[test]
fn somebody_of_the_team_is_written_to_by_the_way_they_chose_as_far_as_it_leads_anywhere() {
    let name = first_warden(&World::new());
    let goes = |channel, phone: &str| {
        let mut world = World::new();
        let id = reached_by(&mut world, &name, channel, phone);
        let to = warden(&world);
        let moves = written(&mut world, to);
        let message = sent(&moves).remove(0);
        assert_eq!((message.person, message.outside), (Some(id), false));
        (message.by, message.to, told(&moves).pop().unwrap())
    };
    let mail = World::new().ds.people.iter().find(|one| one.name == name).unwrap().mail.clone();
    let said = |words: &str| format!("{words} to {name}: “Look at FR-");
    for (channel, phone, by, to, words) in [
        (Channel::Mail, "+441632960123", Channel::Mail, mail.as_str(), "Mail"),
        (Channel::Chat, "", Channel::Chat, mail.as_str(), "Chat message"),
        (Channel::Text, "+441632960123", Channel::Text, "+441632960123", "Text"),
        // Nobody knows the number any more.
        (Channel::Text, "", Channel::Mail, mail.as_str(), "Mail"),
    ] {
        let (came_by, came_to, line) = goes(channel, phone);
        assert_eq!((came_by, came_to.as_str()), (by, to), "{channel:?}");
        assert!(line.starts_with(&said(words)), "{line}");
    }
}

#[test]
fn a_phone_field_a_number_and_a_room_get_what_fits_them_and_the_sentence_says_so() {
    let mut world = World::new();
    let phone = world.f("Faults.Reporter’s phone");
    world.put("Faults.Reporter’s phone", 1, Value::text("+441632960123"));
    let moves = written(&mut world, Recipient::Field(vec![phone]));
    let text = sent(&moves).remove(0);
    assert_eq!((text.by, text.to.as_str(), text.outside, text.person), (Channel::Text, "+441632960123", true, None));

    let mut world = World::new();
    // As it is typed at home; it is kept in the record's way when it is sent.
    let moves = written(&mut world, Recipient::Phone("01632 960124".into()));
    assert_eq!((sent(&moves)[0].by, sent(&moves)[0].to.as_str()), (Channel::Text, "+441632960124"));

    let mut world = World::new();
    let moves = written(&mut world, Recipient::Room(" the yard ".into()));
    let chat = sent(&moves).remove(0);
    assert_eq!((chat.by, chat.to.as_str(), chat.outside), (Channel::Chat, "#the yard", false));
    assert!(told(&moves).pop().unwrap().starts_with("Chat message to the room the yard: “Look at"), "{:?}", told(&moves));

    let mut world = World::new();
    let to = [
        warden(&world),
        Recipient::Field(vec![phone]),
        Recipient::Field(vec![world.f("Faults.Reporter’s mail")]),
        Recipient::Phone("01632 960124".into()),
        Recipient::Room("yard".into()),
        Recipient::Address("office@orrindale-paths.example".into()),
    ];
    let steps = to.into_iter().map(|to| world.mail("Faults", to, "Look", false)).collect();
    let id = world.automate("Faults", "Tell", Occasion::Added, Default::default(), steps);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault is added by one of the team
    if:
    then: send a message to the section’s district’s warden, headed “Look”
    then: send a text to the reporter’s phone, headed “Look”
    then: send a mail to the reporter’s mail, headed “Look”
    then: send a text to 01632 960124, headed “Look”
    then: send a chat message to the room yard, headed “Look”
    then: send a mail to office@orrindale-paths.example, headed “Look”
    ");
    let lens = westerfall_core::access::Lens::new(&world.ds, world.nadia(), &world.clock);
    insta::assert_snapshot!(world.ds.automation(id).unwrap().does(&lens), @"message to warden, text to reporter’s phone, mail to reporter’s mail, text to 01632 960124, chat message to the room yard, mail to office@orrindale-paths.example");
}

#[test]
fn a_number_a_room_and_a_field_that_lead_nowhere_are_refused_where_they_stand() {
    let world = World::new();
    let refused = |to: Recipient| {
        let mut world = World { ds: world.ds.clone(), clock: world.clock.clone() };
        let step = world.mail("Faults", to, "Look", false);
        let automation = westerfall_core::automation::Automation {
            id: westerfall_core::id::AutomationId::FIRST,
            table: world.at("Faults"),
            name: "Tell".into(),
            on: false,
            when: Occasion::Added,
            condition: Default::default(),
            steps: vec![step],
            before: Default::default(),
            acts_for: None,
            unsaid: false,
            draft: None,
        };
        let nadia = world.nadia();
        let fault = world.try_do(nadia, &Intent::Make(westerfall_core::part::Part::Automation(automation))).unwrap_err().0.remove(0);
        assert_eq!(fault.pointer, "/steps/0/mail/to");
        (fault.kind, fault.message)
    };
    assert_eq!(refused(Recipient::Phone("call me".into())).0, FaultKind::WrongKind);
    assert_eq!(refused(Recipient::Room("  ".into())), (FaultKind::Missing, "Say which room of the chat.".into()));
    assert!(refused(Recipient::Room("x".repeat(61))).1.contains("at most 60 characters"));
    assert!(refused(Recipient::Room("#yard".into())).1.contains("without #"));
    let (_, message) = refused(Recipient::Field(vec![world.f("Faults.Status")]));
    assert_eq!(message, "A message goes to a person, e-mail or phone field.");
}

#[test]
fn of_many_records_each_gets_one_message_by_their_way_and_what_follows_is_counted_in_its_words() {
    let mut world = World::new();
    let name = first_warden(&world);
    reached_by(&mut world, &name, Channel::Text, "+441632960123");
    let to = warden(&world);
    let step = world.mail("Faults", to, "{Number}", true);
    let id = world.automate("Faults", "What waits", Occasion::Chosen, Default::default(), vec![step]);
    let records = (1..=60).map(record).collect();
    let moves = world.act(world.nadia(), &Intent::Run { automation: id, records });
    let messages = sent(&moves);
    let texts: Vec<&Message> = messages.iter().filter(|one| one.by == Channel::Text).collect();
    assert_eq!((texts.len(), texts[0].to.as_str(), texts[0].to_name.as_str()), (1, "+441632960123", name.as_str()));
    assert!(messages.len() > 1 && messages.iter().all(|one| one.person.is_some()));

    // Said beforehand: all by one way, in its words; by several, as messages.
    let follows = |to: Recipient| {
        let mut world = World::new();
        reached_by(&mut world, &name, Channel::Text, "+441632960123");
        written(&mut world, to);
        let back = world.option("Faults.Status.reported");
        world.put("Faults.Status", 1, back);
        let input = Input::Value(world.option("Faults.Status.checked"));
        let edits = vec![Edit { field: world.f("Faults.Status"), input, was: None }];
        let intent = Intent::Edit { table: world.at("Faults"), record: record(1), edits };
        world.ds.follows(&intent, Told::Asked, world.nadia(), &world.clock, &()).unwrap().join(" ")
    };
    assert_eq!(follows(warden(&World::new())), format!("1 text goes to {name}."));
    assert_eq!(follows(Recipient::Phone("01632 960124".into())), "1 text goes to 1 number outside.");
    assert_eq!(follows(Recipient::Room("yard".into())), "1 chat message goes to the room yard.");
    assert_eq!(follows(Recipient::Address("a@out.example".into())), "1 mail goes to 1 address outside.");
}

#[test]
fn what_the_team_writes_begins_as_a_mail_only_where_it_is_one_and_a_text_says_it_once() {
    let tamsin = Person { phone: "+441632960123".into(), ..Person::new(PersonId::FIRST, "Tamsin Oake", "tamsin@orrindale-paths.example") };
    let letter = Letter::News { line: "Nadia asked you: Ring the farmer", of: "", link: "http://t.example/rounds" };
    let written = |channel| {
        let person = Person { channel, ..tamsin.clone() };
        letter.to(&Team::default(), &person, person.reached().unwrap(), "news 1")
    };
    let (mail, text) = (written(Channel::Mail), written(Channel::Text));
    assert!(mail.body.starts_with("Dear Tamsin Oake,\n\nNadia asked you: Ring the farmer.") && mail.to == tamsin.mail, "{mail:?}");
    assert_eq!((text.by, text.to.as_str()), (Channel::Text, "+441632960123"));
    assert_eq!(
        westerfall_core::automation::short(&text.subject, &text.body, &[]),
        "Nadia asked you: Ring the farmer. See it there: http://t.example/rounds"
    );
}

#[test]
fn a_number_outside_that_wants_no_more_texts_gets_none() {
    let mut team = Team::default();
    let mut done = |intent: TeamIntent| {
        let change = team.decide(&intent, &TeamAsker::Westerfall, clock().now).unwrap();
        team.apply(&change);
    };
    done(TeamIntent::Begin {
        team: "Fellside Repairs".into(),
        owner: Newcomer { name: "Ines".into(), mail: "ines@fellside.example".into(), about: String::new() },
    });
    done(TeamIntent::OptOut(OptOutWish { address: "+44 1632 960123".into(), to: Wanted::None { by: None } }));
    assert!(!team.people().wants("+441632960123", None) && team.people().wants("+441632960124", None));
    let refused = team
        .decide(&TeamIntent::OptOut(OptOutWish { address: "+44 nobody".into(), to: Wanted::All }), &TeamAsker::Westerfall, clock().now)
        .unwrap_err();
    assert_eq!((refused.0[0].kind, refused.0[0].pointer.as_str()), (FaultKind::WrongKind, "/address"));
    // Whoever wants texts says where.
    let mut ines = team.people().iter().next().unwrap().clone();
    ines.channel = Channel::Text;
    let me = TeamAsker::Person { me: ines.id, lets_in: true, runs: Arc::default() };
    let refused = team.decide(&TeamIntent::Change(ines.clone()), &me, clock().now).unwrap_err();
    assert_eq!((refused.0[0].pointer.as_str(), refused.0[0].message.as_str()), ("/phone", "Texts go to a phone: say its number."));
    ines.phone = "+44 1632 960123".into();
    let change = team.decide(&TeamIntent::Change(ines), &me, clock().now).unwrap();
    assert_eq!(change.did(), "changed phone and way of being reached of Ines");
}
