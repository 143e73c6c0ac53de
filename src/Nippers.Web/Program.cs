using System.CommandLine;
using Nippers.Web.Commands;

var root = new RootCommand("Nippers: service hours, what is due, what was done.")
{
    ServeCommands.Serve(),
    FileCommands.Evaluate(),
    FileCommands.Export(),
    FileCommands.Import(),
    FileCommands.Backup(),
    FileCommands.Restore(),
    FileCommands.Recover(),
    FileCommands.Rebuild(),
    FileCommands.Verify(),
    FileCommands.Schema(),
};
return await CommandWords.In(root).Parse(args).InvokeAsync();
