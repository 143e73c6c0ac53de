using System.CommandLine;
using Nippers.StandIns;

var port = new Option<int>("--port") { Description = "Port to listen on.", DefaultValueFactory = _ => 5081 };
var delay = new Option<int>("--delay") { Description = "Seconds until results are ready.", DefaultValueFactory = _ => 20 };
var seed = new Option<int>("--seed") { Description = "Another seed gives other figures.", DefaultValueFactory = _ => 7 };
var oneIn = new Option<int>("--one-in")
{
    Description = "One compartment in so many has a trouble by itself.",
    DefaultValueFactory = _ => 9,
};
var faults = new Option<string[]>("--fault")
{
    Description = $"A trouble for a compartment, UNIT:COMPARTMENT=FAULT; faults: {string.Join(", ", Enum.GetNames<OilFault>())}.",
};
faults.Validators.Add(x =>
{
    foreach (var text in x.GetValueOrDefault<string[]>() ?? [])
    {
        if (
            text.Split('=') is not [{ Length: > 0 } at, var fault]
            || !at.Contains(':', StringComparison.Ordinal)
            || !Enum.TryParse<OilFault>(fault, ignoreCase: true, out _)
        )
            x.AddError($"'{text}' is no fault; write for example EX-02:engine=fuel.");
    }
});
var mailPort = new Option<int>("--mail-port")
{
    Description = "Port on which messages are taken; their list is on /mail.",
    DefaultValueFactory = _ => 5082,
};
var root = new RootCommand("A small simulated oil laboratory, a mail server that shows what it got, and a feed of five machines.")
{
    port,
    delay,
    seed,
    oneIn,
    faults,
    mailPort,
};
root.SetAction(
    async (given, ct) =>
    {
        var chosen = (given.GetValue(faults) ?? [])
            .Select(x => x.Split('='))
            .ToDictionary(x => x[0], x => Enum.Parse<OilFault>(x[1], ignoreCase: true), StringComparer.Ordinal);
        var lab = new LabServer(
            new(
                given.GetValue(port),
                TimeSpan.FromSeconds(given.GetValue(delay)),
                given.GetValue(seed),
                Math.Max(1, given.GetValue(oneIn)),
                chosen
            ),
            TimeProvider.System
        );
        await using var app = lab.Create();
        await using var mail = new MailStand(given.GetValue(mailPort));
        mail.Map(app);
        var feed = new FeedStand(
            [
                new("EX-01", "", 1040.2, 8, 0.31),
                new("EX-02", "", 2211.8, 9, 0.22),
                new("DZ-01", "", 655.4, 7, 0.4),
                new("DZ-02", "", 3120.9, 10, 0.18),
                new("WL-02", "", 88.1, 6, 0.27),
            ],
            TimeProvider.System
        );
        feed.Code("EX-02", spn: 97, fmi: 15, active: true);
        feed.Map(app);
        mail.Start();
        await app.StartAsync(ct);
        await Console.Error.WriteLineAsync(
            $"The stand-ins are at {app.Urls.First()}: the lab, what the mail server got at /mail, the feed at /feed/v1/fleet (Ctrl+C stops them)"
        );
        await app.WaitForShutdownAsync(ct);
        return 0;
    }
);
return await root.Parse(args).InvokeAsync();
