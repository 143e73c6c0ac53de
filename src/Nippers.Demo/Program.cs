using System.CommandLine;
using System.Globalization;
using Nippers.Data;
using Nippers.Demo;
using Nippers.Web.Commands;

var root = new RootCommand("Nippers, demo: a made-up fleet with fourteen months of history.") { Serve(), Export() };
return await CommandWords.In(root).Parse(args).InvokeAsync();

static Option<string?> Today(string what)
{
    var today = new Option<string?>("--today") { Description = what };
    today.Validators.Add(x =>
    {
        if (x.GetValueOrDefault<string?>() is { } text && Date(text) is null)
            x.AddError(CommandWords.Say("--today needs a date such as 2026-03-01."));
    });
    return today;
}

static DateOnly? Date(string? text) =>
    DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date) ? date : null;

static Command Serve()
{
    var db = new Option<FileInfo?>("--db") { Description = "Database file to make the demo in; a temporary one when left out." };
    var today = Today("The date on which the demo's story ends, YYYY-MM-DD; the clock then stands at that morning.");
    var port = ServeCommands.Port();
    var lab = new Option<string?>("--lab") { Description = "Address of a stand-in lab; ./nippers starts one beside the demo." };
    var mail = new Option<int?>("--mail-port") { Description = "Port of a stand-in mail server; ./nippers starts one beside the demo." };
    var command = new Command("demo", "Builds the demo fleet and serves it, with demo accounts.") { db, port, today, lab, mail };
    command.SetAction(
        async (given, ct) =>
        {
            var file = given.GetValue(db)?.FullName ?? Path.Combine(Directory.CreateTempSubdirectory("nippers-demo-").FullName, "demo.db");
            var clock = Date(given.GetValue(today)) is { } date ? new SetClock(DemoDatabase.MorningOf(date)) : TimeProvider.System;
            if (File.Exists(file) && new FileInfo(file).Length > 0 && !DatabaseMark.IsDemo(file))
            {
                return await FileCommands.Say(
                    Guard.BadInput,
                    $"{file} is not a demo's: its accounts, whose passwords everybody knows, stay out of it."
                );
            }

            return await ServeCommands.Run(
                new(file, given.GetValue(port), clock)
                {
                    Offered = DemoAccounts.All,
                    LocalOnly = true,
                    WarmUp = true,
                },
                services =>
                    DemoDatabase.Fill(
                        services,
                        ct,
                        given.GetValue(lab),
                        string.Create(CultureInfo.InvariantCulture, $"http://localhost:{given.GetValue(port)}"),
                        given.GetValue(mail)
                    ),
                ct
            );
        }
    );
    return command;
}

static Command Export()
{
    var demo = new Option<bool>("--demo") { Description = "The demo fleet; there is nothing else here to write." };
    var today = Today("The date its story ends on, YYYY-MM-DD.");
    var to = new Argument<FileInfo>("out") { Description = "Fleet file to write, *.nippers.json." };
    var command = new Command("export", "Writes the demo fleet as a fleet file.") { demo, today, to };
    command.SetAction(
        (given, _) =>
            FileCommands.WriteWhole(given.GetValue(to)!, stream =>
                DemoFleet.Write(Date(given.GetValue(today)) ?? DemoDatabase.Today(TimeProvider.System), stream)
            )
    );
    return command;
}
